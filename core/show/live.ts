/** What signals make of a show while it runs: no edit, so nothing to undo; kept, so that a restart finds it as it was. */
import type { PlacedShow } from '../edits.js';

export interface LiveShow {
  /** Ids of the banks that are on. */
  banksOn: string[];
}

export const liveOf = ({ show }: PlacedShow): LiveShow => ({
  banksOn: show.banks.filter((bank) => bank.on).map((bank) => bank.id),
});

/** The show with that; the one given is left as it is. */
export function withLive(placed: PlacedShow, { banksOn }: LiveShow): PlacedShow {
  const { show } = placed;
  const on = new Set(banksOn);
  const banks = show.banks.map((bank) =>
    bank.on === on.has(bank.id) ? bank : { ...bank, on: on.has(bank.id) },
  );
  const same = banks.every((bank, at) => bank === show.banks[at]);
  return same ? placed : { ...placed, show: { ...show, banks } };
}
