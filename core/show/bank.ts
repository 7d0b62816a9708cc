/** Banks: sets of mappings that are switched on and off together. */
import { z } from 'zod';
import { line } from './text.js';
import { id, name } from './fields.js';

export const bankSchema = z.object({
  id,
  name,
  on: z.boolean(),
  /** Only one bank of a group is on at a time. Empty for no group. */
  group: line(40, 'A group has at most 40 characters.').default(''),
});
export type Bank = z.infer<typeof bankSchema>;

export const BANK_ACTS = ['on', 'off', 'toggle', 'only'] as const;
export type BankAct = (typeof BANK_ACTS)[number];

/** @returns the ids of the banks that are on after the act; a bank that is not there changes nothing. */
export function switchBank(
  banks: readonly Bank[],
  isOn: (id: string) => boolean,
  id: string,
  act: BankAct,
): Set<string> {
  const on = new Set(banks.filter((bank) => isOn(bank.id)).map((bank) => bank.id));
  const bank = banks.find((candidate) => candidate.id === id);
  if (!bank) return on;
  if (act === 'off' || (act === 'toggle' && on.has(id))) {
    on.delete(id);
    return on;
  }
  for (const other of banks)
    if (act === 'only' || (bank.group !== '' && other.group === bank.group)) on.delete(other.id);
  return on.add(id);
}
