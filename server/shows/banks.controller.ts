import { Body, Controller, Delete, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { bankSchema, type Bank } from '@tawny-signal/core/show';
import { Gives, Takes } from '../http/json-schema.js';
import { bankChangeSchema, newBankSchema } from './requests.js';
import { addRow, changeRow, findRow, newId, removeRow } from './rows.js';
import { ShowService } from './show.service.js';

@ApiTags('banks')
@Controller('api/banks')
export class BanksController {
  constructor(private readonly show: ShowService) {}

  @Post()
  @Takes(newBankSchema)
  @Gives(bankSchema, 'The bank that was made')
  add(@Body({ schema: newBankSchema }) body: z.infer<typeof newBankSchema>): Promise<Bank> {
    return this.show.edit(`Add bank ${body.name}`, (placed) =>
      addRow(placed, 'banks', { ...body, on: true, id: newId() }),
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
    const label = body.on === undefined ? `Rename bank ${name}` : `Bank ${name} ${body.on ? 'on' : 'off'}`;
    return this.show.edit(label, (placed) => changeRow(placed, 'banks', id, body));
  }

  /** Its mappings stay, and belong to no bank. */
  @Delete(':id')
  remove(@Param('id') id: string): Promise<null> {
    const { name } = findRow(this.show.current.placed, 'banks', id);
    return this.show.edit(`Remove bank ${name}`, (placed) => {
      const { ops, result } = removeRow(placed, 'banks', id);
      const freed = placed.show.mappings
        .filter((mapping) => mapping.bankId === id)
        .flatMap((mapping) => changeRow(placed, 'mappings', mapping.id, { bankId: null }).ops);
      return { ops: [...freed, ...ops], result };
    });
  }
}
