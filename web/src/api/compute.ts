// A what-if asked while it is typed: debounced, the last answer kept until the next, refusals at their fields.
import { useQuery } from "@tanstack/react-query";
import { Refused, type Refusal } from "./client";
import { useDebounced } from "./entry";

/** `body` null: nothing is asked yet. */
export function useCompute<Body, T>(what: string, body: Body | null, send: (body: Body) => Promise<T>) {
  const text = useDebounced(body === null ? "" : JSON.stringify(body));
  const asked = useQuery({
    queryKey: ["compute", what, text],
    queryFn: () => send(JSON.parse(text) as Body),
    enabled: text !== "",
    retry: false,
    gcTime: 0,
    placeholderData: (was) => was,
  });
  const refusals: Refusal[] = (asked.error instanceof Refused ? asked.error.problem.fields : null) ?? [];
  return {
    data: asked.error || text === "" ? undefined : asked.data,
    refusals,
    /** What is wrong, wherever it stands. */
    said: asked.error?.message ?? null,
    /** What is wrong and stands at no field. */
    wrong: asked.error && refusals.length === 0 ? asked.error.message : null,
  };
}

/** What is filled of a form. */
export const filledOf = <F extends Partial<Record<string, string>>>(form: F) =>
  Object.fromEntries(Object.entries(form).filter(([, text]) => text !== undefined && text.trim() !== "")) as {
    [K in keyof F]?: Exclude<F[K], "">;
  };
