/** Rows that are only added, changed and removed: layouts, tempo marks, and what moments name, which are groups of slots, looks and MIDI files. */
import { Body, Controller, Delete, Param, Patch, Post, Query, type Type } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { startMake } from '@tawny-signal/core/motion/makes';
import { ROW_SCHEMAS } from '@tawny-signal/core/show/row-schemas';
import { TABLES, type RowOf } from '@tawny-signal/core/show/tables';
import { Gives, Takes } from '../http/json-schema.js';
import {
  newPlainSchema,
  PLAIN_TABLES,
  plainChangeSchema,
  removalSchema,
  type PlainTable,
} from './requests.js';
import { removeFrom, type Removed } from './removing.js';
import { addRow, changeRow, findRow, newId } from './rows.js';
import { ShowService } from './show.service.js';

/** What a new row has that the call leaves out. */
const START: Record<PlainTable, object> = {
  layouts: { lineId: null, controls: [] },
  groups: {},
  looks: {},
  midiFiles: {},
  tempoMarks: {},
  motions: { makes: startMake('wave'), sends: [] },
};

/** The calls of one table. */
function plainRows(table: PlainTable): Type {
  const { called, path } = TABLES[table];
  const schema = ROW_SCHEMAS[table];
  const newSchema = newPlainSchema(table);
  const changeSchema = plainChangeSchema(table);
  type Row = RowOf[PlainTable];

  @ApiTags(path)
  @Controller(`api/${path}`)
  class PlainRowsController {
    constructor(readonly show: ShowService) {}

    @Post()
    @Takes(newSchema)
    @Gives(schema, `The ${called} that was made`)
    add(@Body({ schema: newSchema }) body: z.infer<typeof newSchema>): Promise<Row> {
      return this.show.edit(`Add ${called} ${body.name}`, (placed) =>
        addRow(placed, table, { ...START[table], ...body, id: newId() }),
      );
    }

    @Patch(':id')
    @Takes(changeSchema)
    @Gives(schema, `The ${called} as it is now`)
    change(
      @Param('id') id: string,
      @Body({ schema: changeSchema }) body: z.infer<typeof changeSchema>,
    ): Promise<Row> {
      const label = `Change ${called} ${this.nameOf(id)}`;
      return this.show.edit(label, (placed) => changeRow(placed, table, id, body));
    }

    /** What uses it keeps its id, and preflight says that it is gone; or uses the row `moveTo` instead. */
    @Delete(':id')
    remove(
      @Param('id') id: string,
      @Query({ schema: removalSchema }) { moveTo }: z.infer<typeof removalSchema>,
    ): Promise<Removed> {
      return removeFrom(this.show, `Remove ${called} ${this.nameOf(id)}`, table, id, moveTo);
    }

    nameOf(id: string): string {
      return findRow(this.show.current.placed, table, id).name;
    }
  }
  // The API's description names each call after its class.
  Object.defineProperty(PlainRowsController, 'name', { value: `${table}Controller` });
  return PlainRowsController;
}

export const PLAIN_CONTROLLERS = PLAIN_TABLES.map(plainRows);
