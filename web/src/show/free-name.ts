/** A name that no row has yet: `Motion`, `Motion 2` … */
export function freeName(rows: readonly { name: string }[], base: string): string {
  const used = new Set(rows.map((row) => row.name.toLowerCase()));
  if (!used.has(base.toLowerCase())) return base;
  for (let n = 2; ; n++) if (!used.has(`${base} ${n}`.toLowerCase())) return `${base} ${n}`;
}
