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
  lastOf.set(book, { key, at: now, answer });
  return answer;
}

/** Empties what was sent; what was typed since the press stays. */
export function emptied<T>(sent: T, empty: T) {
  return (now: T): T => (now === sent ? empty : now);
}
