/** Switches a bank of mappings when the shaped value is above 0. `only` switches all others off. */
import { z } from 'zod';
import { bankPlace } from '../place.js';
import { BANK_ACTS, type BankAct } from '../show/bank.js';
import { id } from '../show/fields.js';
import { acting } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const TITLES: Record<BankAct, string> = {
  on: 'bank on',
  off: 'bank off',
  toggle: 'bank on or off',
  only: 'this bank only',
};
const SAID: Record<BankAct, string> = { on: 'on', off: 'off', toggle: 'on or off', only: 'only' };

const schema = z.object({ kind: z.literal('bank'), ...SENT, bankId: id.nullable(), act: z.enum(BANK_ACTS) });

export const bank: SendKindOf<typeof schema> = {
  schema,
  words: 'Switch a bank',
  protocol: null,
  out: [0, 1],
  holds: false,
  start: ({ delayMs, delayBeats }) => ({
    kind: 'bank',
    lineId: null,
    delayMs,
    delayBeats,
    bankId: null,
    act: 'toggle',
  }),
  compile: ({ bankId, act }) => acting(bankId === null ? null : { do: 'bank', bankId, act }),
  title: ({ act }) => TITLES[act],
  detail: () => 'this show',
  said({ bankId, act }, _, { banks }) {
    const named = banks.find((one) => one.id === bankId);
    return named ? `bank ${named.name} ${SAID[act]}` : TITLES[act];
  },
  done({ bankId, act }, _, { banks }, { isOn }) {
    const named = banks.find((one) => one.id === bankId);
    if (!named) return 'a bank that is not there';
    return act === 'toggle'
      ? `bank ${named.name} ${isOn(bankId) ? 'on' : 'off'}`
      : `bank ${named.name} ${SAID[act]}`;
  },
  typed: ({ bankId, act }, _, { banks }) => `bank ${banks.find((one) => one.id === bankId)?.name} ${act}`,
  leaves: ({ bankId }) => [bankPlace(bankId)],
};
