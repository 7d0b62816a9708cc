import { Controller, Get, Header, HttpCode, Param, Post, Query, Req } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { z } from 'zod';
import { compareCues } from '@tawny-signal/core/cues/number';
import { opsTo } from '@tawny-signal/core/compare/ops';
import { applyOps, type Op } from '@tawny-signal/core/edits';
import {
  bankFile,
  freeName,
  layoutFile,
  readBankFile,
  readLayoutFile,
  readShowFile,
  takeBankFile,
  writeJson,
} from '@tawny-signal/core/files/json';
import { readMappings, writeMappings } from '@tawny-signal/core/files/mappings-csv';
import { readMoments, takeOver, writeMoments } from '@tawny-signal/core/files/moments-csv';
import type { BadLine } from '@tawny-signal/core/files/table';
import type { Show } from '@tawny-signal/core/show';
import type { Layout } from '@tawny-signal/core/show/layout';
import type { Typed } from '@tawny-signal/core/typed/range';
import { BadInput } from '../http/problems.js';
import { addRow, addRows, changeRow, findRow, newId } from './rows.js';
import { ShowService } from './show.service.js';

const csvQuery = z.object({
  /** True to report what would be imported without importing it. */
  look: z.stringbool().default(false),
});

/** The body of a request that brings a file. */
const textOf = (request: Request): string => {
  const bytes = request.body as unknown;
  return Buffer.isBuffer(bytes) ? bytes.toString('utf8') : '';
};

function wanted<T>(read: Typed<T>): T {
  if (!read.ok) throw new BadInput([{ field: 'file', message: read.reason }]);
  return read.value;
}

const AFile = (): MethodDecorator => (target, key, descriptor) => {
  HttpCode(200)(target, key, descriptor);
  ApiConsumes('application/octet-stream')(target, key, descriptor);
  ApiBody({ schema: { type: 'string', format: 'binary' } })(target, key, descriptor);
};

@ApiTags('files')
@Controller('api/files')
export class FilesController {
  constructor(private readonly show: ShowService) {}

  @Get('show')
  @Header('Content-Type', 'application/json')
  @Header('Content-Disposition', 'attachment; filename="show.tawny.json"')
  exportShow(): string {
    return writeJson(this.show.current.placed.show);
  }

  /** Puts the show of a file in the place of this one: one edit, which Undo takes back. */
  @Post('show')
  @AFile()
  async importShow(@Req() request: Request): Promise<{ name: string; mappings: number }> {
    const next = wanted(readShowFile(textOf(request)));
    const { name } = next.settings;
    return this.show.edit(`Open the show ${name} from a file`, (placed) => ({
      ops: opsTo(placed, next),
      result: { name, mappings: next.mappings.length },
    }));
  }

  @Get('bank/:id')
  @Header('Content-Type', 'application/json')
  @Header('Content-Disposition', 'attachment; filename="bank.tawny.json"')
  exportBank(@Param('id') id: string): string {
    const { placed } = this.show.current;
    return writeJson(bankFile(placed.show, findRow(placed, 'banks', id)));
  }

  /** Adds the bank of a file with its mappings. Lines are found by their names; those that are not there are said. */
  @Post('bank')
  @AFile()
  async importBank(@Req() request: Request): Promise<{ name: string; mappings: number; missing: string[] }> {
    const file = wanted(readBankFile(textOf(request)));
    return this.show.edit(`Add bank ${file.bank.name} from a file`, (placed) => {
      const { bank, mappings, missing } = takeBankFile(placed.show, file, newId);
      const added = addRow(placed, 'banks', bank);
      const rows = addRows(placed, 'mappings', mappings);
      return {
        ops: [...added.ops, ...rows.ops],
        result: { name: bank.name, mappings: mappings.length, missing },
      };
    });
  }

  @Get('layout/:id')
  @Header('Content-Type', 'application/json')
  @Header('Content-Disposition', 'attachment; filename="layout.tawny.json"')
  exportLayout(@Param('id') id: string): string {
    return writeJson(layoutFile(findRow(this.show.current.placed, 'layouts', id)));
  }

  @Post('layout')
  @AFile()
  async importLayout(@Req() request: Request): Promise<Layout> {
    const { layout } = wanted(readLayoutFile(textOf(request)));
    return this.show.edit(`Add layout ${layout.name} from a file`, (placed) =>
      addRow(placed, 'layouts', {
        ...layout,
        name: freeName(placed.show.layouts, layout.name),
        id: newId(),
        lineId: null,
      }),
    );
  }

  @Get('mappings.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="mappings.csv"')
  exportMappings(): string {
    return writeMappings(this.show.current.placed.show);
  }

  /** Adds the mappings of a table; lines that can't be taken are said, each with its number, and the others are added. */
  @Post('mappings.csv')
  @AFile()
  async importMappings(
    @Req() request: Request,
    @Query({ schema: csvQuery }) { look }: z.infer<typeof csvQuery>,
  ): Promise<{ added: number; bad: BadLine[] }> {
    const text = textOf(request);
    const { mappings, bad } = readMappings(text, this.show.current.placed.show);
    if (look || mappings.length === 0) return { added: mappings.length, bad };
    return this.show.edit(`Add ${mappings.length} mappings from a table`, (placed) => {
      const rows = mappings.map((mapping) => ({ ...mapping, id: newId() }));
      return { ops: addRows(placed, 'mappings', rows).ops, result: { added: rows.length, bad } };
    });
  }

  @Get('moments.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="running-order.csv"')
  exportMoments(): string {
    return writeMoments(this.show.current.placed.show);
  }

  /**
   * Puts the moments of a table into the running order: one whose cue is there already is changed where the table has columns, the others come
   * where their cues belong. Lines that can't be taken are said, each with its number.
   */
  @Post('moments.csv')
  @AFile()
  async importMoments(
    @Req() request: Request,
    @Query({ schema: csvQuery }) { look }: z.infer<typeof csvQuery>,
  ): Promise<{ added: number; changed: number; bad: BadLine[] }> {
    const read = readMoments(textOf(request), this.show.current.placed.show);
    const { bad, columns } = read;
    const known = new Set(this.show.current.placed.show.moments.map(({ cue }) => cue));
    const changed = read.moments.filter(({ cue }) => known.has(cue)).length;
    const counts = { added: read.moments.length - changed, changed, bad };
    if (look || read.moments.length === 0) return counts;
    return this.show.edit(`Import ${read.moments.length} moments from a table`, (start) => {
      let placed = start;
      const ops: Op[] = [];
      for (const moment of read.moments) {
        const { moments } = placed.show;
        const same = moments.find(({ cue }) => cue === moment.cue);
        const before = moments.findLast(({ cue }) => compareCues(cue, moment.cue) < 0);
        const made = same
          ? changeRow(placed, 'moments', same.id, takeOver(same, moment, columns, placed.show))
          : addRow(placed, 'moments', { ...moment, id: newId() }, before?.id ?? null);
        ops.push(...made.ops);
        placed = applyOps(placed, made.ops);
      }
      return { ops, result: counts };
    });
  }
}
