// Writing to a book. The id is made when the form is armed and renewed after the answer: a double tap, or a
// retry after a lost answer, is one entry. A press while an answer is under way is never lost: it waits its turn.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useContext, useEffect, useRef, useState } from "react";
import { v7 } from "uuid";
import { answered, Refused, type Refusal, type Written } from "./client";
import { letGo, mayWait, post, putAway, type Kind, type PayloadOf, type Said } from "./outbox";
import { meQuery } from "./queries";
import { inTurn } from "./turns";
import { AtStation } from "../batch/station";
import { steady } from "../ui/steady";

/** Stands for an answer while an entry waits for the server. */
const WAITS = { stored: false, repeated: false, seq: 0, understood: {}, refusals: [] } as Written;

/** Nothing is said to wait that is not stored. */
const NO_ROOM = {
  status: 0,
  code: "no-room",
  detail:
    "The server does not answer, and this browser has no room to keep it. It is not taken: what you typed stays here.",
};

/** No decision is taken twice, and none is left in doubt: the line above says what the server knows of it. */
const NOT_KNOWN = {
  status: 0,
  code: "not-known",
  detail:
    "No answer came: it is not known whether this is stored. The server is asked, and the line above says what it found. Pressed again it counts once.",
};

export function useWrite(book: string) {
  const client = useQueryClient();
  const station = useContext(AtStation);
  const armed = useRef(new Map<string, { id: string; since: number }>());
  const mutation = useMutation({
    mutationFn: async ({ own, ...said }: Said & { own?: string }) => {
      const { kind, payload } = said;
      const key = `${kind} ${JSON.stringify(payload)}`;
      const { id, since } = armed.current.get(key) ?? { id: own ?? v7(), since: steady() };
      armed.current.set(key, { id, since });
      // A retry says how long ago the hand was on the button, in shop time.
      const rate = client.getQueryData(meQuery.queryKey)?.clock_rate ?? 1;
      const ago_s = ((steady() - since) / 1000) * rate;
      try {
        const written = await post(book, false, id, said, ago_s, station);
        armed.current.delete(key);
        letGo(id);
        return written;
      } catch (e) {
        const known = answered(e);
        // An answer, even a no, uses the id up; silence keeps it: it waits in storage, or for the retry.
        if (known) {
          armed.current.delete(key);
          letGo(id);
          throw e;
        }
        const me = client.getQueryData(meQuery.queryKey);
        if (!me) throw e;
        const waits = mayWait(me, kind);
        const kept = putAway({ id, book, ...said, since, rate, asks: !waits }, me);
        if (!waits) throw new Refused(NOT_KNOWN);
        if (!kept) throw new Refused(NO_ROOM);
        armed.current.delete(key);
        return WAITS;
      }
    },
    onSuccess: (written) => {
      if (written === WAITS) return;
      if (written.view)
        client.setQueryData(["batch", book, station], { ...written.view, received: steady() });
      void client.invalidateQueries({ queryKey: ["board"] });
      void client.invalidateQueries({ queryKey: ["batch", book] });
    },
  });
  const refused = mutation.error instanceof Refused ? mutation.error.problem : null;
  const write = <K extends Kind>(kind: K, payload: PayloadOf<K>, own?: string): Promise<Written | null> => {
    const key = `${kind} ${JSON.stringify(payload)}`;
    // Sent in the order pressed: what comes next may hang on what went before.
    return inTurn(book, key, () =>
      mutation.mutateAsync({ kind, payload, ...(own ? { own } : {}) }).catch(() => null),
    );
  };
  return {
    /** `own`: an id every screen agrees on, where several may write the same. */
    write,
    busy: mutation.isPending,
    refused,
    forget: mutation.reset,
  };
}

export function useDebounced<T>(value: T, ms = 80): T {
  const [held, setHeld] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return held;
}

/** What an entry would do, by the very code that stores it. Runs while typing; stale answers are dropped. */
export function useDry<K extends Kind>(book: string, kind: K, payload: PayloadOf<K> | null) {
  const station = useContext(AtStation);
  const text = useDebounced(payload ? JSON.stringify(payload) : "");
  const query = useQuery({
    queryKey: ["dry", book, station, kind, text],
    queryFn: () => post(book, true, v7(), { kind, payload: JSON.parse(text) as PayloadOf<K> }, 0, station),
    enabled: text !== "",
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  if (text === "" || !payload || !query.data) return undefined;
  // An answer to what stood in the form before is shown, and says that it is not of this.
  const stale = query.isPlaceholderData || text !== JSON.stringify(payload);
  return { ...(query.data as Written), stale };
}

/** The refusal that belongs to a field, if there is one. */
export function at(field: string, refusals: Refusal[] | null | undefined) {
  return refusals?.find((r) => r.field === field)?.text;
}
