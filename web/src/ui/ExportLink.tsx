// Every list can be taken along.
export function ExportLink({ href, word = "Take as CSV" }: { href: string; word?: string }) {
  return (
    <a className="export no-print" href={href} download>
      {word}
    </a>
  );
}
