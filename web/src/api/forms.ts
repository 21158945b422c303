// What forms are made of, as core says it: words to choose from, units to tap, how long a list may be, what a shape asks.
import { queryOptions, useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "./client";

export type Forms = Schemas["Forms"];
export type Words = Forms["words"];

/** What was read last: it outlives a change of person, which empties every other answer. */
let known: Forms | undefined;

/** It changes with the program alone. */
export const formsQuery = queryOptions({
  queryKey: ["forms"],
  queryFn: async () => (known = await ask(api.GET("/api/v1/forms"))),
  staleTime: Infinity,
  gcTime: Infinity,
});

/** There on every page under the shell, which waits for it. */
export function useForms(): Forms {
  const forms = useQuery(formsQuery).data ?? known;
  if (!forms) throw new Error("The page was drawn before its words were there.");
  return forms;
}
export const useWords = (): Words => useForms().words;

type Word<V extends string> = { value: V; word: string };

/** Words as a choice offers them; `blank`: what stands there while nothing is chosen. */
export function offered<V extends string>(words: Word<V>[]): [V, string][];
export function offered<V extends string>(words: Word<V>[], blank: string): ["" | V, string][];
export function offered<V extends string>(words: Word<V>[], blank?: string): ["" | V, string][] {
  const all = words.map((w): ["" | V, string] => [w.value, w.word]);
  return blank === undefined ? all : [["", blank], ...all];
}

/** What a value is called. */
export const called = <V extends string>(words: Word<V>[], value: V | null | undefined) =>
  words.find((w) => w.value === value)?.word ?? "";
