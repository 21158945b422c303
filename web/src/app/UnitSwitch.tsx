// The unit set, switched in the header: every figure changes at once, no stored value does.
import { Button, Menu, MenuItem } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { called, useForms } from "../api/forms";

/** Sets how the person reads numbers and reads everything again. */
export function useReads() {
  const client = useQueryClient();
  return async (body: { units: Schemas["UnitSet"]; numbers: Schemas["NumberFormat"] }) => {
    await ask(api.PUT("/api/v1/session/reads", { body }));
    await client.invalidateQueries();
  };
}

export function UnitSwitch({ me }: { me: Schemas["Me"] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const set = useReads();
  const sets = useForms().unit_sets;
  const word = called(sets, me.units);
  return (
    <>
      <Button
        variant="text"
        name="units"
        aria-haspopup="menu"
        aria-label={`Units: ${word}`}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ color: "text.primary", px: 1, minWidth: 0 }}
      >
        <span className="units-word">Units:&nbsp;</span>
        {word}
      </Button>
      <Menu anchorEl={anchor} open={Boolean(anchor)} onClose={() => setAnchor(null)}>
        {sets.map(({ value: units, word: name, units: what }) => (
          <MenuItem
            key={units}
            selected={units === me.units}
            data-units={units}
            sx={{ minHeight: 56 }}
            onClick={() => {
              setAnchor(null);
              void set({ units, numbers: me.numbers });
            }}
          >
            <span>
              <b>{name}</b>
              <br />
              <span className="small slate">{what}</span>
            </span>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
