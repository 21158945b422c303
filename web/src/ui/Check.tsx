// One box to tick, with its word beside it.
export function Check(props: { name: string; word: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <label className="tick" style={{ border: 0 }}>
      <input
        type="checkbox"
        name={props.name}
        checked={props.on}
        onChange={(e) => props.set(e.target.checked)}
      />
      {props.word}
    </label>
  );
}
