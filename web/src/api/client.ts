// The one way to the server: typed by the committed OpenAPI document, every failure a Refused.
import createClient from "openapi-fetch";
import { useSyncExternalStore } from "react";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type BatchView = Schemas["BatchView"];
export type Level = Schemas["Level"];
export type Shown = Schemas["Shown"];
export type Working = Schemas["Working"];
export type Refusal = Schemas["Refusal"];
export type Written = Schemas["Written"];
export type PotView = Schemas["PotView"];

export const api = createClient<paths>({ baseUrl: "/" });

/** The body of every error; where there is no answer the page makes its own. */
export type Problem = Omit<Schemas["ProblemBody"], "title">;

/** A refusal or fault of the server, or no answer at all (status 0). */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/**
 * The server read it and said what became of it. Silence, a gateway's word and a fault say nothing: what was sent may be stored
 * or not, and only the same entry under the same id may follow.
 */
export const answered = (e: unknown) =>
  e instanceof Refused && e.problem.status !== 0 && e.problem.status < 500;

/** Whether a failed answer says that the database is away, or that a gateway found no server. */
function nobodyThere(status: number, code: string | undefined) {
  if (status === 503) return code === undefined || code === "database-away";
  return status === 502 || status === 504;
}

/** Unwraps an answer; throws a Refused. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    serverAnswers.set(false);
    throw new Refused({
      status: 0,
      code: "no-answer",
      detail: "The server does not answer. What you typed is kept; try again.",
    });
  }
  const body = answer.error as Problem | undefined;
  databaseAway.set(body?.code === "database-away");
  serverAnswers.set(!nobodyThere(answer.response.status, body?.code));
  noteVersion(answer.response.headers.get("x-level-keel-version"));
  if (answer.response.ok) return answer.data as T;
  if (answer.response.status === 401) sessionOver.set(true);
  if (body && typeof body.detail === "string") throw new Refused({ ...body, status: answer.response.status });
  throw new Refused({
    status: answer.response.status,
    code: "fault",
    detail: "The server answered with a fault.",
  });
}

/** Sends bytes that are no JSON: a file, a table. */
export function send<T>(method: string, path: string, body: BodyInit, type: string): Promise<T> {
  const call = async () => {
    const response = await fetch(path, {
      method,
      body,
      headers: { "content-type": type || "application/octet-stream" },
    });
    const answer: unknown = await response.json().catch(() => undefined);
    return response.ok ? { data: answer as T, response } : { error: answer, response };
  };
  return ask<T>(call());
}

/** A file the server makes at the asking; what keeps it from making it is a Refused, as everywhere. */
export function fetched(path: string): Promise<{ file: Blob; name: string }> {
  const call = async () => {
    const response = await fetch(path);
    if (!response.ok) return { error: await response.json().catch(() => undefined), response };
    const said = response.headers.get("content-disposition") ?? "";
    const name = /filename="([^"]+)"/.exec(said)?.[1] ?? "level-keel";
    return { data: { file: await response.blob(), name }, response };
  };
  return ask(call());
}

/** Things any answer can tell the whole page: that it is older than its server, that its session is over. */
function signal(raised = false) {
  const listeners = new Set<() => void>();
  return {
    set(value: boolean) {
      if (raised === value) return;
      raised = value;
      listeners.forEach((l) => l());
    },
    get: () => raised,
    subscribe(listener: () => void) {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
  };
}

export const stalePage = signal();
export const sessionOver = signal();
/** False from the first call without an answer until the next one with. */
export const serverAnswers = signal(true);
/** The server answers, and says that its database does not. */
export const databaseAway = signal();

/** How far the import of this browser is, as `import:<id>:<done>:<of>`. */
let heard = "";
const hearers = new Set<() => void>();
export const progress = {
  set(said: string) {
    heard = said;
    hearers.forEach((h) => h());
  },
  get: () => heard,
  subscribe(hearer: () => void) {
    hearers.add(hearer);
    return () => void hearers.delete(hearer);
  },
};
export function useProgress(id: string): [number, number] | null {
  const said = useSyncExternalStore(progress.subscribe, progress.get);
  const [, of, done, all] = said.split(":");
  return of === id ? [Number(done), Number(all)] : null;
}

export const useSignal = (s: ReturnType<typeof signal>) => useSyncExternalStore(s.subscribe, s.get);

let seenVersion: string | null = null;

function noteVersion(version: string | null) {
  if (!version) return;
  if (seenVersion && seenVersion !== version) stalePage.set(true);
  seenVersion ??= version;
}
