// The one way to the server: typed by the committed OpenAPI document, every failure a Refused.
import createClient from "openapi-fetch";
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

export type Problem = {
  status: number;
  code: string;
  field?: string | null;
  detail: string;
  fields?: Refusal[];
};

/** A refusal or fault of the server, or no answer at all (status 0). */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** Unwraps an answer; throws a Refused. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    throw new Refused({
      status: 0,
      code: "no-answer",
      detail: "The server does not answer. What you typed is kept; try again.",
    });
  }
  noteVersion(answer.response.headers.get("x-level-keel-version"));
  if (answer.response.ok) return answer.data as T;
  const body = answer.error as Problem | undefined;
  if (body && typeof body.detail === "string") throw new Refused({ ...body, status: answer.response.status });
  throw new Refused({
    status: answer.response.status,
    code: "fault",
    detail: "The server answered with a fault.",
  });
}

let seenVersion: string | null = null;
let onStale: () => void = () => undefined;

/** A page older than its server says reload. */
export function whenStale(act: () => void) {
  onStale = act;
}

function noteVersion(version: string | null) {
  if (!version) return;
  if (seenVersion && seenVersion !== version) onStale();
  seenVersion ??= version;
}
