import { Body, Controller, Delete, Param, Patch, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import type { Op, PlacedShow } from '@tawny-signal/core/edits';
import { bankSchema, switchBank, type Bank, type BankAct } from '@tawny-signal/core/show/bank';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { Gives, Takes } from '../http/json-schema.js';
import { bankChangeSchema, newBankSchema, removalSchema } from './requests.js';
import { removeFrom, type Removed } from './removing.js';
import { addRow, changeRow, findRow, newId } from './rows.js';
import { ShowService } from './show.service.js';

/** Returns what changes in a mapping when its bank, or the bank of its conditions, is removed. */
const withoutBank = ({ bankId, when }: Mapping, id: string): Partial<Mapping> => ({
  bankId: bankId === id ? null : bankId,
  when: when.bankId === id ? { ...when, bankId: null } : when,
});

/** Switches a bank, and the banks that it switches off. */
function switched(placed: PlacedShow, id: string, act: BankAct, change: object): { ops: Op[]; result: Bank } {
  const { banks } = placed.show;
  const onNow = switchBank(banks, (bank) => banks.some((one) => one.id === bank && one.on), id, act);
  const ops = banks
    .filter((bank) => bank.id !== id)
    .flatMap((bank) => changeRow(placed, 'banks', bank.id, { on: onNow.has(bank.id) }).ops);
  const own = changeRow(placed, 'banks', id, { ...change, on: onNow.has(id) });
  return { ops: [...ops, ...own.ops], result: own.result };
}

@ApiTags('banks')
@Controller('api/banks')
export class BanksController {
  constructor(private readonly show: ShowService) {}

  @Post()
  @Takes(newBankSchema)
  @Gives(bankSchema, 'The bank that was made')
  add(@Body({ schema: newBankSchema }) body: z.infer<typeof newBankSchema>): Promise<Bank> {
    return this.show.edit(`Add bank ${body.name}`, (placed) =>
      addRow(placed, 'banks', { ...body, on: true, group: '', id: newId() }),
    );
  }

  @Patch(':id')
  @Takes(bankChangeSchema)
  @Gives(bankSchema, 'The bank as it is now')
  change(
    @Param('id') id: string,
    @Body({ schema: bankChangeSchema }) body: z.infer<typeof bankChangeSchema>,
  ): Promise<Bank> {
    const { name } = findRow(this.show.current.placed, 'banks', id);
    const { on, act = on === undefined ? null : on ? 'on' : 'off', ...change } = body;
    if (act === null)
      return this.show.edit(`Change bank ${name}`, (placed) => changeRow(placed, 'banks', id, change));
    const words = { on: 'on', off: 'off', toggle: 'on or off', only: 'alone on' }[act];
    const isLive = Object.keys(change).length === 0;
    return this.show.edit(`Bank ${name} ${words}`, (placed) => switched(placed, id, act, change), isLive);
  }

  /** Its mappings stay, and belong to no bank, or to the bank `moveTo`. */
  @Delete(':id')
  remove(
    @Param('id') id: string,
    @Query({ schema: removalSchema }) { moveTo }: z.infer<typeof removalSchema>,
  ): Promise<Removed> {
    const { name } = findRow(this.show.current.placed, 'banks', id);
    const free = (placed: PlacedShow): Op[] =>
      placed.show.mappings
        .filter((mapping) => mapping.bankId === id || mapping.when.bankId === id)
        .flatMap((mapping) => changeRow(placed, 'mappings', mapping.id, withoutBank(mapping, id)).ops);
    return removeFrom(
      this.show,
      `Remove bank ${name}`,
      'banks',
      id,
      moveTo,
      moveTo === undefined ? free : undefined,
    );
  }
}
