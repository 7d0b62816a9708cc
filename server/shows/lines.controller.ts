import { randomBytes } from 'node:crypto';
import { Body, Controller, Delete, Param, Patch, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { lineSchema, type Line } from '@tawny-signal/core/show/line';
import { Gives, Takes } from '../http/json-schema.js';
import { lineChangeSchema, newLineSchema, removalSchema } from './requests.js';
import { removeFrom, type Removed } from './removing.js';
import { addRow, changeRow, findRow, newId } from './rows.js';
import { ShowService } from './show.service.js';

const SECRET_BYTES = 9;

/** Gives a new line a secret, if it needs one. */
const withSecret = <T extends { kind: string }>(line: T): T =>
  line.kind === 'osc-ws' && !('secret' in line)
    ? { ...line, secret: randomBytes(SECRET_BYTES).toString('base64url') }
    : line;

@ApiTags('lines')
@Controller('api/lines')
export class LinesController {
  constructor(private readonly show: ShowService) {}

  @Post()
  @Takes(newLineSchema)
  @Gives(lineSchema, 'The line that was made')
  add(@Body({ schema: newLineSchema }) body: z.infer<typeof newLineSchema>): Promise<Line> {
    return this.show.edit(`Add line ${body.name}`, (placed) =>
      addRow(placed, 'lines', { muted: false, ...withSecret(body), id: newId() }),
    );
  }

  @Patch(':id')
  @Takes(lineChangeSchema)
  @Gives(lineSchema, 'The line as it is now')
  change(
    @Param('id') id: string,
    @Body({ schema: lineChangeSchema }) body: z.infer<typeof lineChangeSchema>,
  ): Promise<Line> {
    const { name } = findRow(this.show.current.placed, 'lines', id);
    return this.show.edit(`Change line ${name}`, (placed) => changeRow(placed, 'lines', id, body));
  }

  /** What uses it keeps its id, and preflight says that it is gone; or uses the line `moveTo` instead. */
  @Delete(':id')
  remove(
    @Param('id') id: string,
    @Query({ schema: removalSchema }) { moveTo }: z.infer<typeof removalSchema>,
  ): Promise<Removed> {
    const { name } = findRow(this.show.current.placed, 'lines', id);
    return removeFrom(this.show, `Remove line ${name}`, 'lines', id, moveTo);
  }
}
