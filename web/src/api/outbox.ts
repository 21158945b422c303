// Stamps the server has not acknowledged wait in this browser's storage, with their id and how long ago the
// hand was on the button, and are sent again until it answers. The id makes a repeat the same entry.
// What needs a decision is never sent again by itself: of it the server is asked whether it is stored.
import { useSyncExternalStore } from "react";
import { answered, api, ask, Refused, serverAnswers, type Schemas } from "./client";
import { steady } from "../ui/steady";

/** An entry in the book of a batch as it is sent; what each kind carries comes from core. */
export type Entry = Schemas["NewBatchEntry"];
export type Kind = Entry["kind"];
export type PayloadOf<K extends Kind> = Extract<Entry, { kind: K }>["payload"];
/** A kind with what it carries. */
export type Said = Pick<Entry, "kind" | "payload">;

export type Waiting = Said & {
  id: string;
  book: string;
  /** What the page calls it; missing in what an older page put away. */
  word?: string;
  /** Who stamped it: nobody else's session may send it. */
  who: string;
  name: string;
  /** This page, and its monotonic clock at the stamp; after a reload the wall clock's difference stands in. */
  page: string;
  since: number;
  wall: number;
  /** Seconds of shop time in a real second. */
  rate: number;
  /** The server read it and said no: it waits for a person. */
  refused?: string;
  /** A decision: it is asked whether it was stored, and not sent. */
  asks?: boolean;
  /** What came of the asking: it waits for a person to see it. */
  found?: string;
};

const KEY = "level-keel-outbox";
/** Where a list goes that cannot be read. */
const ASIDE = `${KEY}-unread`;
const PAGE = String(performance.timeOrigin);
const listeners = new Set<() => void>();
let held: Waiting[] = read();

/** What waits. A list this page cannot read whole is put aside as it is, so that nothing is written over it. */
function read(): Waiting[] {
  const text = localStorage.getItem(KEY);
  if (text === null) return [];
  const list = parsed(text);
  const sound = list?.filter(isWaiting) ?? [];
  if (sound.length !== list?.length) putAside(text);
  return sound;
}

function parsed(text: string): unknown[] | null {
  try {
    const list: unknown = JSON.parse(text);
    return Array.isArray(list) ? list : null;
  } catch {
    return null;
  }
}

function isWaiting(w: unknown): w is Waiting {
  const words = ["id", "book", "kind", "who", "name"] as const;
  return typeof w === "object" && w !== null && words.every((k) => typeof (w as Waiting)[k] === "string");
}

function putAside(text: string) {
  const before = localStorage.getItem(ASIDE) ?? "";
  if (!before.includes(text)) store(ASIDE, before === "" ? text : `${before}\n${text}`);
}

/** False: there is no room. */
function store(key: string, text: string): boolean {
  try {
    localStorage.setItem(key, text);
    return true;
  } catch {
    return false;
  }
}

/** False: it could not be stored, and what was kept before stands. */
function keep(next: Waiting[]): boolean {
  if (!store(KEY, JSON.stringify(next))) return false;
  held = next;
  listeners.forEach((l) => l());
  return true;
}

// Another tab stamped or sent: its list is the list.
window.addEventListener("storage", (e) => {
  if (e.key !== KEY) return;
  held = read();
  listeners.forEach((l) => l());
});

/** What a hand has done may wait; signing, releasing and the like need the server's answer at once. Core says which. */
export const mayWait = (me: Schemas["Me"], kind: Kind) => kind in me.waits;
export const waitingWord = (w: Waiting) => w.word ?? w.kind;

export function useWaiting() {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    () => held,
  );
}

/** Seconds of shop time since the stamp. */
export function agoOf(w: Waiting) {
  const ms = w.page === PAGE ? steady() - w.since : Date.now() - w.wall;
  return (Math.max(0, ms) / 1000) * w.rate;
}

/** False: this browser has no room to keep it. */
export function putAway(
  entry: Said & Pick<Waiting, "id" | "book" | "since" | "rate" | "asks">,
  me: Schemas["Me"],
): boolean {
  const wall = Date.now() - (steady() - entry.since);
  const word = me.waits[entry.kind] ?? entry.kind.replaceAll("_", " ");
  const before = read().filter((w) => w.id !== entry.id);
  return keep([...before, { ...entry, word, wall, page: PAGE, who: me.id, name: me.name }]);
}

/** Takes an entry off the list: its person has seen what became of it, or it was answered elsewhere. */
export function letGo(id: string) {
  if (held.some((w) => w.id === id)) keep(read().filter((w) => w.id !== id));
}

/** It waits for a person and for nothing else. */
export const isSettled = (w: Waiting) => w.refused !== undefined || w.found !== undefined;

/** Whether the server has stored an entry; it waits for one that is just being written. */
const isStored = (book: string, entry: string) =>
  ask(
    api.GET("/api/v1/books/{id}/entries/{entry}", {
      params: { path: { id: book, entry } },
      signal: AbortSignal.timeout(10_000),
    }),
  );

/** `station`: the panel the answer shows; null: an answer without the batch. */
export function post(
  book: string,
  dry_run: boolean,
  id: string,
  said: Said,
  ago_s: number,
  station: Schemas["StationName"] | null,
) {
  return ask(
    api.POST("/api/v1/books/{id}/entries", {
      params: {
        path: { id: book },
        query: { dry_run, view: station !== null, station: station ?? undefined },
      },
      // A kind and its payload came together, and stay together.
      body: { id, ...said, ago_s } as Entry,
      // A network that hangs is no answer either.
      signal: AbortSignal.timeout(dry_run ? 5_000 : 10_000),
    }),
  );
}

/** A session that is over, or too many at once: asked again later. */
const isPassing = (e: unknown) => e instanceof Refused && [401, 429].includes(e.problem.status);

let sending = false;

/** Sends what waits, oldest first, for the person signed in. True when something landed. */
export async function sendWaiting(me: Schemas["Me"]): Promise<boolean> {
  if (sending) return false;
  sending = true;
  let landed = false;
  try {
    for (;;) {
      const next = read().find((w) => w.who === me.id && !isSettled(w));
      if (!next) return landed;
      try {
        const { kind, payload } = next;
        if (next.asks) {
          const { stored } = await isStored(next.book, next.id);
          const found = stored ? "It is stored." : "It is not stored. Press it again if it is still wanted.";
          if (!keep(read().map((w) => (w.id === next.id ? { ...w, found } : w)))) return landed;
        } else {
          await post(next.book, false, next.id, { kind, payload }, agoOf(next), null);
          letGo(next.id);
        }
        landed = true;
      } catch (e) {
        // No answer, a fault or a session that is over: it goes on waiting.
        if (!answered(e) || isPassing(e)) return landed;
        const why = e instanceof Error ? e.message : "The server said no.";
        // Where its no cannot be stored it is asked again later, and not at once for ever.
        if (!keep(read().map((w) => (w.id === next.id ? { ...w, refused: why } : w)))) return landed;
      }
    }
  } finally {
    sending = false;
    if (landed) serverAnswers.set(true);
  }
}
