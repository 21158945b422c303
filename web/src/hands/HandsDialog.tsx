// Hands and ears: what is heard, the foot switch, and what this browser can do of the rest.
import { Button, Dialog } from "@mui/material";
import { useEffect, useState } from "react";
import { canStayAwake } from "./awake";
import { mayBePedal, pedalKey, setPedalKey } from "./pedal";
import { canSpeak } from "./say";
import { mute, muted, play, SOUNDS } from "./sounds";

export function HandsDialog({ close }: { close: () => void }) {
  return (
    <Dialog open onClose={close} aria-labelledby="hands-title">
      <div className="hands">
        <h2 id="hands-title">Hands and ears</h2>
        <fieldset>
          <legend>Sounds of this screen</legend>
          {SOUNDS.map(([is, word]) => (
            <div key={is} className="spread">
              <label className="tick">
                <input
                  type="checkbox"
                  name={`sound-${is}`}
                  defaultChecked={!muted(is)}
                  onChange={(e) => mute(is, !e.target.checked)}
                />
                {word}
              </label>
              <Button variant="text" name={`hear-${is}`} onClick={() => play(is)}>
                Hear it
              </Button>
            </div>
          ))}
        </fieldset>
        <Pedal />
        <p className="small slate">
          {canSpeak()
            ? "“Say it”, or h, says the live figure aloud."
            : "This browser cannot speak. Its figures are read from the screen."}
        </p>
        <p className="small slate">
          {canStayAwake()
            ? "The screen stays awake while a pour, a catch or a pass runs."
            : "This browser lets no page keep the screen awake here. Set the display of this device to stay on."}
        </p>
        <div className="actions">
          <Button variant="contained" name="hands-done" onClick={close}>
            Done
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

/** The switch is pressed once, and this browser knows it. */
function Pedal() {
  const [known, setKnown] = useState(pedalKey);
  const [learning, setLearning] = useState(false);
  const [wrong, setWrong] = useState("");
  useEffect(() => {
    if (!learning) return;
    const listen = (e: KeyboardEvent) => {
      e.preventDefault();
      e.stopPropagation();
      if (e.key === "Escape") return setLearning(false);
      if (!mayBePedal(e.key)) {
        return setWrong(`It types ${e.key}, which people type too. Set it to F13 to F24, or to a page key.`);
      }
      setPedalKey(e.key);
      setKnown(e.key);
      setWrong("");
      setLearning(false);
    };
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, [learning]);
  return (
    <fieldset>
      <legend>Foot switch</legend>
      <p className="small slate">
        It stamps a pass at Spray, starts and stops the watch at Set and Prove, takes the weight at Mix.
      </p>
      <div className="actions">
        <Button
          variant="outlined"
          name="learn-pedal"
          onClick={() => {
            setWrong("");
            setLearning(true);
          }}
        >
          {learning ? "Press the switch now" : known ? `It types ${known}. Another` : "Tell which it is"}
        </Button>
        {known && (
          <Button
            variant="text"
            name="no-pedal"
            onClick={() => {
              setPedalKey("");
              setKnown("");
            }}
          >
            No foot switch
          </Button>
        )}
      </div>
      {wrong && (
        <p className="refusal" role="alert">
          {wrong}
        </p>
      )}
    </fieldset>
  );
}
