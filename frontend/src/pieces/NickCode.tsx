/** The slits in a piece's near edge, drawn as a thumb reads them: a long one is three, a short one is one. */
export function NickCode({ nicks }: { nicks: number }) {
  const depths = [...Array<number>(Math.floor(nicks / 3)).fill(18), ...Array<number>(nicks % 3).fill(9)];
  const width = 14 + 9 * 5;
  return (
    <svg width={width} height={28} viewBox={`0 0 ${width} 28`} role="img" aria-label={`nicks: ${nicks}`}>
      <rect x={1} y={1} width={width - 2} height={26} fill="var(--plate)" />
      {depths.map((depth, i) => (
        <rect key={i} x={7 + 9 * i} y={27 - depth} width={3.6} height={depth} fill="var(--ground)" />
      ))}
    </svg>
  );
}
