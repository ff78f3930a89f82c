/** A number as text, set so that decimal points stand under each other in a column. */
export function Decimal({
  text,
  places,
}: {
  text: string;
  /** Widest number of digits after the point in the column. */ places: number;
}) {
  const after = text.includes('.') ? text.split('.')[1]!.length + 1 : 0;
  const missing = places + (places > 0 ? 1 : 0) - after;
  return (
    <span className="figure">
      {text.replace('-', '−')}
      <span aria-hidden className="invisible">
        {'0'.repeat(Math.max(0, missing))}
      </span>
    </span>
  );
}
