/** A named number with its unit beside it, as a pair of a definition list. */
export function Figure({ name, text, unit }: { name: string; text: string; unit: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>
        <span className="number">{text}</span> {unit}
      </dd>
    </div>
  );
}
