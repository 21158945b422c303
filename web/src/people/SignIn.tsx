// Sign-in: your name, then your PIN. Large enough for gloves.
import { Button, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, sessionOver } from "../api/client";
import { meQuery, peopleQuery } from "../api/queries";
import { Failed, Loading } from "../ui/states";

export function SignIn() {
  const people = useQuery(peopleQuery);
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
  if (people.isPending) return <Loading what="the names" />;
  if (people.error) return <Failed error={people.error} again={() => void people.refetch()} />;
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
      <h1>Level Keel</h1>
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
            <br />
            <span className="slate small">{p.role}</span>
          </button>
        ))}
      </div>
      {people.data.length === 0 && (
        <p className="empty">Nobody is entered yet. On the server, run “level-keel add-person”.</p>
      )}
      {name && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            sign.mutate();
          }}
        >
          <TextField
            label={`PIN of ${name}`}
            type="password"
            value={pin}
            name="pin"
            onChange={(e) => setPin(e.target.value.replace(/\D/g, ""))}
            error={sign.isError}
            helperText={sign.error?.message ?? " "}
            autoFocus
            autoComplete="off"
            slotProps={{ htmlInput: { inputMode: "none", maxLength: 12 }, inputLabel: { shrink: true } }}
          />
          <div className="pin" role="group" aria-label="PIN keypad">
            {["1", "2", "3", "4", "5", "6", "7", "8", "9", "0"].map((d) => (
              <button key={d} type="button" onClick={() => setPin((p) => (p + d).slice(0, 12))}>
                {d}
              </button>
            ))}
            <button type="button" aria-label="delete" onClick={() => setPin((p) => p.slice(0, -1))}>
              ⌫
            </button>
          </div>
          <Button
            type="submit"
            variant="contained"
            disabled={pin.length < 4 || sign.isPending}
            name="sign-in"
          >
            Sign in
          </Button>
        </form>
      )}
    </main>
  );
}
