/** How often a property is tried: the mutation tester, which runs all of this for each of its changes, tries it less often. */
export const runs = (often: number): number =>
  process.env['TAWNY_FEWER_RUNS'] ? Math.ceil(often / 20) : often;
