import { beginning } from '@tawny-signal/core/show/text';
import { Body, Controller, Delete, HttpCode, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { cueBetween } from '@tawny-signal/core/cues/number';
import { applyOps, positionOf, type Op } from '@tawny-signal/core/edits';
import { momentSchema, type Moment } from '@tawny-signal/core/show/moment';
import { Gives, Takes } from '../http/json-schema.js';
import { momentChangeSchema, moveSchema, newMomentSchema, pasteSchema, timesSchema } from './requests.js';
import { removeFrom, type Removed } from './removing.js';
import { addRow, changeRow, findRow, moveRow, newId } from './rows.js';
import { ShowService } from './show.service.js';

const wordsOf = ({ cue, name }: Moment): string => `moment ${cue}${name && ` ${name}`}`;

@ApiTags('moments')
@Controller('api/moments')
export class MomentsController {
  constructor(private readonly show: ShowService) {}

  /** Behind `after`, or at the end; its cue number is one between its neighbours', unless one is given. */
  @Post()
  @Takes(newMomentSchema)
  @Gives(momentSchema, 'The moment that was made')
  add(@Body({ schema: newMomentSchema }) body: z.infer<typeof newMomentSchema>): Promise<Moment> {
    const { after, ...given } = body;
    return this.show.edit('Add a moment', (placed) => {
      const { moments } = placed.show;
      const at = after === undefined ? moments.length : moments.findIndex(({ id }) => id === after) + 1;
      const cue = cueBetween(moments[at - 1]?.cue ?? '', moments[at]?.cue ?? '');
      return addRow(placed, 'moments', { cue, name: '', sends: [], ...given, id: newId() }, after);
    });
  }

  @Patch(':id')
  @Takes(momentChangeSchema)
  @Gives(momentSchema, 'The moment as it is now')
  change(
    @Param('id') id: string,
    @Body({ schema: momentChangeSchema }) body: z.infer<typeof momentChangeSchema>,
  ): Promise<Moment> {
    return this.show.edit(`Change ${this.nameOf(id)}`, (placed) => changeRow(placed, 'moments', id, body));
  }

  @Post(':id/copy')
  @Gives(momentSchema, 'The copy, right behind the one it was made from')
  copy(@Param('id') id: string): Promise<Moment> {
    return this.show.edit(`Copy ${this.nameOf(id)}`, (placed) => {
      const from = findRow(placed, 'moments', id);
      const { moments } = placed.show;
      const next = moments[moments.indexOf(from) + 1];
      const cue = cueBetween(from.cue, next?.cue ?? '');
      const name = from.name ? beginning(`${from.name} copy`, 60) : '';
      return addRow(placed, 'moments', { ...from, id: newId(), cue, name, callers: [] }, id);
    });
  }

  @Post(':id/move')
  @Takes(moveSchema)
  @Gives(momentSchema, 'The moment that was moved')
  move(
    @Param('id') id: string,
    @Body({ schema: moveSchema }) body: z.infer<typeof moveSchema>,
  ): Promise<Moment> {
    return this.show.edit(`Move ${this.nameOf(id)}`, (placed) => moveRow(placed, 'moments', id, body.after));
  }

  /** Rows that were cut or copied, behind `after`, or at the end; each gets a cue number between its neighbours. */
  @Post('paste')
  @Takes(pasteSchema)
  paste(@Body({ schema: pasteSchema }) { after, moments }: z.infer<typeof pasteSchema>): Promise<Moment[]> {
    return this.show.edit(
      `Paste ${moments.length === 1 ? 'a moment' : `${moments.length} moments`}`,
      (start) => {
        let placed = start;
        let behind = after;
        const ops: Op[] = [];
        const result = moments.map((given) => {
          const rows = placed.show.moments;
          const at = behind === undefined ? rows.length : rows.findIndex(({ id }) => id === behind) + 1;
          const cue = cueBetween(rows[at - 1]?.cue ?? '', rows[at]?.cue ?? '');
          const made = addRow(placed, 'moments', { ...given, cue, id: newId() }, behind);
          ops.push(...made.ops);
          placed = applyOps(placed, made.ops);
          behind = made.result.id;
          return made.result;
        });
        return { ops, result };
      },
    );
  }

  /** Sets the timecodes of many moments; undone as one. */
  @Post('times')
  @HttpCode(200)
  @Takes(timesSchema)
  setTimes(@Body({ schema: timesSchema }) { times }: z.infer<typeof timesSchema>): Promise<number> {
    return this.show.edit(`Set ${times.length === 1 ? 'a time' : `${times.length} times`}`, (placed) => ({
      ops: times.flatMap(({ id, timecode }) => changeRow(placed, 'moments', id, { timecode }).ops),
      result: times.length,
    }));
  }

  /** Numbers all of them 1, 2, 3 … in the order in which they stand. What refers to them does so by their id. */
  @Post('renumber')
  @HttpCode(200)
  renumber(): Promise<number> {
    return this.show.edit('Renumber the running order', (placed) => ({
      ops: placed.show.moments.map((row, at): Op => ({
        op: 'put',
        table: 'moments',
        row: { ...row, cue: String(at + 1) },
        position: positionOf(placed, 'moments', row.id),
      })),
      result: placed.show.moments.length,
    }));
  }

  @Delete(':id')
  remove(@Param('id') id: string): Promise<Removed> {
    return removeFrom(this.show, `Remove ${this.nameOf(id)}`, 'moments', id);
  }

  private nameOf(id: string): string {
    return wordsOf(findRow(this.show.current.placed, 'moments', id));
  }
}
