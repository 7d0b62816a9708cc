/** The part of a show that signals change while it runs. Such a change is no edit and cannot be undone. It is saved for a restart. */
import type { PlacedShow } from '../edits.js';

export interface LiveShow {
  /** Ids of the banks that are on. */
  banksOn: string[];
}

export const liveOf = ({ show }: PlacedShow): LiveShow => ({
  banksOn: show.banks.filter((bank) => bank.on).map((bank) => bank.id),
});

/** Returns the show with these banks on. Does not change the one given. */
export function withLive(placed: PlacedShow, { banksOn }: LiveShow): PlacedShow {
  const { show } = placed;
  const on = new Set(banksOn);
  const banks = show.banks.map((bank) =>
    bank.on === on.has(bank.id) ? bank : { ...bank, on: on.has(bank.id) },
  );
  const same = banks.every((bank, at) => bank === show.banks[at]);
  return same ? placed : { ...placed, show: { ...show, banks } };
}
