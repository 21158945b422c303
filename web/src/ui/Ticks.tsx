// Any of a few, ticked.

export function Ticks<V extends string>(props: {
  label: string;
  name: string;
  of: readonly [V, string][];
  ticked: readonly V[];
  set: (ticked: V[]) => void;
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
