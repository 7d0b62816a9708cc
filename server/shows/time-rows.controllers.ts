/** Where the position comes from, and where it goes to. */
import { Body, Controller, Delete, HttpCode, Param, Patch, Post, type Type } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { rowName } from '@tawny-signal/core/compare/row-name';
import type { PlacedShow } from '@tawny-signal/core/edits';
import { ROW_SCHEMAS } from '@tawny-signal/core/show/row-schemas';
import { TABLES, type RowOf } from '@tawny-signal/core/show/tables';
import { TIME_WAYS } from '@tawny-signal/core/time/ways';
import { Gives, Takes } from '../http/json-schema.js';
import { BadInput } from '../http/problems.js';
import { moveSchema, newTimeRowSchema, timeRowChangeSchema } from './requests.js';
import { removeFrom, type Removed } from './removing.js';
import { addRow, changeRow, findRow, moveRow, newId } from './rows.js';
import { ShowService } from './show.service.js';

type TimeTable = 'timeSources' | 'timeOutputs';
type Made = { ops: ReturnType<typeof addRow>['ops']; result: RowOf[TimeTable] };

/** @throws BadInput if the line cannot carry it, or has it already */
function refuseUnfit(placed: PlacedShow, table: TimeTable, { result }: Made): void {
  const { lines, [table]: rows } = placed.show;
  const line = lines.find(({ id }) => id === result.lineId);
  const { words, lineWords, fits, several } = TIME_WAYS[result.kind];
  if (line && !fits(line.kind))
    throw new BadInput([{ field: 'lineId', message: `${words} needs ${lineWords}.` }]);
  const same = (rows as RowOf[TimeTable][]).some(
    ({ id, lineId, kind }) => id !== result.id && lineId === result.lineId && kind === result.kind,
  );
  if (line && same && !several)
    throw new BadInput([{ field: 'lineId', message: `${line.name} is in this list already.` }]);
}

function timeRows(table: TimeTable): Type {
  const { called, path } = TABLES[table];
  const schema: z.ZodType<RowOf[TimeTable]> = ROW_SCHEMAS[table];

  @ApiTags(path)
  @Controller(`api/${path}`)
  class TimeRowsController {
    constructor(readonly show: ShowService) {}

    @Post()
    @Takes(newTimeRowSchema)
    @Gives(schema, `The ${called} that was made`)
    add(
      @Body({ schema: newTimeRowSchema }) body: z.infer<typeof newTimeRowSchema>,
    ): Promise<RowOf[TimeTable]> {
      return this.show.edit(`Add a ${called}`, (placed) => {
        const made = addRow(placed, table, { ...body, id: newId() });
        refuseUnfit(placed, table, made);
        return made;
      });
    }

    @Patch(':id')
    @Takes(timeRowChangeSchema)
    @Gives(schema, `The ${called} as it is now`)
    change(
      @Param('id') id: string,
      @Body({ schema: timeRowChangeSchema }) body: z.infer<typeof timeRowChangeSchema>,
    ): Promise<RowOf[TimeTable]> {
      return this.show.edit(`Change ${called} ${this.nameOf(id)}`, (placed) => {
        const made = changeRow(placed, table, id, body);
        refuseUnfit(placed, table, made);
        return made;
      });
    }

    /** The order of sources is the order of preference. */
    @Post(':id/move')
    @HttpCode(200)
    @Takes(moveSchema)
    @Gives(schema, `The ${called} that was moved`)
    move(
      @Param('id') id: string,
      @Body({ schema: moveSchema }) body: z.infer<typeof moveSchema>,
    ): Promise<RowOf[TimeTable]> {
      return this.show.edit(`Move ${called} ${this.nameOf(id)}`, (placed) =>
        moveRow(placed, table, id, body.after),
      );
    }

    @Delete(':id')
    remove(@Param('id') id: string): Promise<Removed> {
      return removeFrom(this.show, `Remove ${called} ${this.nameOf(id)}`, table, id);
    }

    nameOf(id: string): string {
      const { placed } = this.show.current;
      return rowName(placed.show, findRow(placed, table, id));
    }
  }
  // The API's description names each call after its class.
  Object.defineProperty(TimeRowsController, 'name', { value: `${table}Controller` });
  return TimeRowsController;
}

export const TIME_ROW_CONTROLLERS = [timeRows('timeSources'), timeRows('timeOutputs')];
