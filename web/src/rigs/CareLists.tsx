// What is done for a rig at every use, each day and each week; what is due stands first in its word.
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { meQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { useRigBook } from "./useRigBook";

export function CareLists({ id, care }: { id: string; care: Schemas["CareView"] }) {
  const me = useQuery(meQuery).data;
  const { say, refused } = useRigBook(id);
  return (
    <div className="care">
      {care.open && <p className="word-out">Nothing comes off now. {care.open}</p>}
      {refused && (
        <p className="refusal" role="alert">
          {refused.detail}
        </p>
      )}
      {care.lists.map((list) => (
        <section key={list.list} className="check-group" aria-label={list.word}>
          <h3>
            {list.word}{" "}
            <span className={list.due ? "word-tell" : "slate"}>
              {list.due ? `${list.due} due` : "nothing due"}
            </span>
          </h3>
          {list.items.map((item) => (
            <button
              key={item.id}
              type="button"
              className="step-row"
              name={`care-${item.id}`}
              disabled={Boolean(item.held)}
              onClick={() => void say("cared", { item: item.id })}
            >
              <svg viewBox="0 0 24 24" width="24" height="24" aria-hidden>
                <circle cx="12" cy="12" r="10" fill="none" stroke="var(--ink)" strokeWidth="2" />
                {!item.due && (
                  <path d="M6 12l4 5 8-10" fill="none" stroke="var(--verdigris)" strokeWidth="3" />
                )}
              </svg>
              <span>{item.word}</span>
              <span className="small slate">
                {item.due ? "due" : ""}
                {item.due && item.done_at ? ", " : ""}
                {item.done_at ? `${shopTime(item.done_at, me?.zone ?? "UTC", me?.now)}, ${item.done_by}` : ""}
              </span>
            </button>
          ))}
        </section>
      ))}
    </div>
  );
}
