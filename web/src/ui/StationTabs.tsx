// The views of one station, side by side under the cautions.
export function StationTabs<T extends string>({
  station,
  of,
  at,
  go,
}: {
  /** Its word, and the start of each tab's name. */
  station: string;
  of: readonly (readonly [key: T, word: string])[];
  at: T;
  go: (key: T) => void;
}) {
  return (
    <div className="station-tabs" role="tablist" aria-label={station}>
      {of.map(([key, word]) => (
        <button
          key={key}
          type="button"
          role="tab"
          aria-selected={at === key}
          name={`${station.toLowerCase()}-${key}`}
          onClick={() => go(key)}
        >
          {word}
        </button>
      ))}
    </div>
  );
}
