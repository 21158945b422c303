// Presses wait their turn: what is pressed while an answer is under way is sent after it, in the order pressed.

/** A second press of the same this soon is one tap of a gloved hand, not two. */
const ONE_TAP_MS = 400;

/** What was pressed last in each book, and the answer it got or waits for. */
type Press = { key: string; at: number; answer: Promise<unknown> };
const lastOf = new Map<string, Press>();

/** Sends in the line of a book, whichever form was pressed. `send` never throws. */
export function inTurn<T>(book: string, key: string, send: () => Promise<T>): Promise<T> {
  const now = performance.now();
  const before = lastOf.get(book);
  if (before?.key === key && now - before.at < ONE_TAP_MS) return before.answer as Promise<T>;
  const answer = before ? before.answer.then(send) : send();
  const press: Press = { key, at: now, answer };
  lastOf.set(book, press);
  // Refused or lost, it was not taken: pressed again at once it is sent again.
  void answer.then((answered) => {
    if (!answered) press.at = -ONE_TAP_MS;
  });
  return answer;
}

/**
 * Empties a form as it is sent, so that whatever is typed meanwhile, the same once more too, is of the next entry. Where it was
 * refused or lost, what was sent is put back, unless something else was typed since.
 */
export async function emptying<T, A>(
  sent: T,
  empty: T,
  set: (change: (now: T) => T) => void,
  answer: Promise<A>,
): Promise<A> {
  set(() => empty);
  const answered = await answer;
  if (!answered) set((now) => (now === empty ? sent : now));
  return answered;
}
