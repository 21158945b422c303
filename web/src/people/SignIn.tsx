// Sign-in: your name, then your PIN. Large enough for gloves.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { api, ask, sessionOver } from "../api/client";
import { doorQuery, meQuery, peopleQuery } from "../api/queries";
import { Failed, Loading } from "../ui/states";
import { Words } from "../ui/Words";
import { PinPad } from "./PinPad";

// Seen once in the life of a shop.
const FirstVisit = lazy(() => import("./FirstVisit").then((m) => ({ default: m.FirstVisit })));

export function SignIn() {
  const people = useQuery(peopleQuery);
  const door = useQuery(doorQuery);
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [pin, setPin] = useState("");
  const sign = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/session", { body: { name, pin } })),
    onSuccess: async () => {
      // Another person may read other units and may do other things: everything is read again.
      await client.invalidateQueries({ queryKey: meQuery.queryKey });
      sessionOver.set(false);
      // Whose sessions these were is not for the next hand to see, not even while they are read anew.
      client.removeQueries({ queryKey: ["sessions"] });
      void client.invalidateQueries();
    },
    onError: () => setPin(""),
  });
  if (door.isPending || people.isPending) return <Loading what="the names" />;
  const failed = door.error ?? people.error;
  if (failed)
    return <Failed error={failed} again={() => void Promise.all([door.refetch(), people.refetch()])} />;
  if (door.data?.first_visit) {
    return (
      <Suspense fallback={<Loading what="the first page" />}>
        <FirstVisit asks={door.data.first_visit} />
      </Suspense>
    );
  }
  if (!door.data || !people.data) return null;
  return (
    <main className="sign-in">
      <svg width="220" height="58" viewBox="0 0 220 58" aria-hidden>
        <rect
          x="2"
          y="9"
          width="216"
          height="40"
          rx="20"
          fill="var(--vial)"
          stroke="var(--ink)"
          strokeWidth="3"
        />
        <rect x="92" y="15" width="40" height="28" rx="14" fill="var(--verdigris)" />
        <path d="M74 2v54M146 2v54" stroke="var(--ink)" strokeWidth="3" />
      </svg>
      <h1>{door.data.shop}</h1>
      {door.data.demo && (
        <p className="demo-word">This is the demo: an invented shop, its people and its work.</p>
      )}
      <p className="slate">Who is working? The log keeps your name with what you enter.</p>
      <div className="names">
        {people.data.map((p) => (
          <button
            key={p.id}
            type="button"
            aria-pressed={p.name === name}
            onClick={() => {
              setName(p.name);
              setPin("");
              sign.reset();
            }}
          >
            <b>{p.name}</b>
          </button>
        ))}
      </div>
      {!door.data.names_listed && (
        <Words
          name="sign-in-name"
          label="Your name"
          value={name}
          set={(typed) => {
            setName(typed);
            sign.reset();
          }}
          most={80}
          wrong={undefined}
          autoFocus
        />
      )}
      {name && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            sign.mutate();
          }}
        >
          <PinPad
            label={`PIN of ${name}`}
            pin={pin}
            set={(typed) => {
              sign.reset();
              setPin(typed);
            }}
            wrong={sign.error?.message}
          />
        </form>
      )}
    </main>
  );
}
