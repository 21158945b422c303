// Any of a few, ticked.
import type { Option } from "./Choice";

export function Ticks(props: {
  label: string;
  name: string;
  of: readonly Option[];
  ticked: readonly string[];
  set: (ticked: string[]) => void;
  disabled?: boolean;
}) {
  return (
    <div role="group" aria-label={props.label} className="wrap">
      <span className="label">{props.label}</span>
      {props.of.map(([value, word]) => (
        <label key={value} className="tick">
          <input
            type="checkbox"
            name={`${props.name}-${value}`}
            checked={props.ticked.includes(value)}
            disabled={props.disabled ?? false}
            onChange={(e) =>
              props.set(e.target.checked ? [...props.ticked, value] : props.ticked.filter((t) => t !== value))
            }
          />
          {word}
        </label>
      ))}
    </div>
  );
}
