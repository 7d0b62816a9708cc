import { Controller, Get, Header, HttpCode, Param, Post, Query, Req, Res } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { z } from 'zod';
import { opsTo } from '@tawny-signal/core/compare/ops';
import { compareShows } from '@tawny-signal/core/compare/rows';
import { fileNameOf } from '@tawny-signal/core/files/file-name';
import { forTables } from '@tawny-signal/core/show/tables';
import { bankFile, freeName, layoutFile, takeBankFile, writeJson } from '@tawny-signal/core/files/json';
import { writeMappings } from '@tawny-signal/core/files/mappings-csv';
import { writeMoments } from '@tawny-signal/core/files/moments-csv';
import type { BadLine } from '@tawny-signal/core/files/table';
import type { Layout } from '@tawny-signal/core/show/layout';
import type { Typed } from '@tawny-signal/core/typed/range';
import { BadInput } from '../http/problems.js';
import { importOps } from './import-moments.js';
import { partRead, readFile } from './reading.js';
import { addRow, addRows, findRow, newId, putRows } from './rows.js';
import { ShowService } from './show.service.js';
import type { RowCounts } from './shows-store.js';
import { ShowsService } from './shows.service.js';

const csvQuery = z.object({
  /** True to report what would be imported without importing it. */
  look: z.stringbool().default(false),
});

const showQuery = z.object({
  /** True to say what is in the file, and how it differs from the open show, without opening it. */
  look: z.stringbool().default(false),
  /** What it becomes: a show of its own, or what the open show has in it. */
  as: z.enum(['new', 'open']).default('open'),
});

/** What is in the file of a show. */
interface OpenedShow {
  name: string;
  mappings: number;
  rows: RowCounts;
  /** How many rows differ from those of the open show. */
  differs: number;
}

/** Names a file that is downloaded. */
const named = (response: Response, name: string): void =>
  void response.setHeader('Content-Disposition', `attachment; filename="${name}"`);

/** The body of a request that brings a file. */
const bytesOf = (request: Request): Uint8Array => {
  const bytes = request.body as unknown;
  if (Buffer.isBuffer(bytes)) return bytes;
  const type = request.get('Content-Type') ?? 'no type';
  throw new BadInput([
    { field: 'file', message: `A file is sent as application/octet-stream; this came as ${type}.` },
  ]);
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
  constructor(
    private readonly show: ShowService,
    private readonly shows: ShowsService,
  ) {}

  /** How much was read of the file that this page has sent, 0–1; null if none is being read. */
  @Get('reading')
  reading(): { part: number | null } {
    return { part: partRead() };
  }

  @Get('show')
  @Header('Content-Type', 'application/json')
  exportShow(@Res({ passthrough: true }) response: Response): string {
    const { show } = this.show.current.placed;
    named(response, fileNameOf(show.settings.name, 'show', new Date()));
    return writeJson(show);
  }

  /**
   * Opens the show of a file. With `as=new` it becomes a show of the list, under a free name, and is opened. Otherwise it replaces what is in the
   * open show: one edit, which Undo takes back.
   */
  @Post('show')
  @AFile()
  async importShow(
    @Req() request: Request,
    @Query({ schema: showQuery }) { look, as }: z.infer<typeof showQuery>,
  ): Promise<OpenedShow> {
    const { show } = this.show.current.placed;
    const next = wanted(await readFile('show', bytesOf(request), show, request));
    const { name } = next.settings;
    const mappings = next.mappings.length;
    const rows = forTables<RowCounts>((table) => next[table].length);
    const opened: OpenedShow = { name, mappings, rows, differs: compareShows(show, next).length };
    if (look) return opened;
    if (as === 'new') {
      const free = freeName(await this.shows.list(), name);
      await this.shows.addAndOpen({ ...next, settings: { ...next.settings, name: free } });
      return { ...opened, name: free };
    }
    return this.show.edit(`Replace the show by ${name} from a file`, (placed) => ({
      ops: opsTo(placed, next),
      result: opened,
    }));
  }

  @Get('bank/:id')
  @Header('Content-Type', 'application/json')
  exportBank(@Param('id') id: string, @Res({ passthrough: true }) response: Response): string {
    const { placed } = this.show.current;
    const bank = findRow(placed, 'banks', id);
    named(response, fileNameOf(bank.name, 'bank'));
    return writeJson(bankFile(placed.show, bank));
  }

  /** Adds the bank of a file with its mappings and motions. Lines are found by their names; those that are not there are said. */
  @Post('bank')
  @AFile()
  async importBank(@Req() request: Request): Promise<{ name: string; mappings: number; missing: string[] }> {
    const { show } = this.show.current.placed;
    const file = wanted(await readFile('bank', bytesOf(request), show, request));
    return this.show.edit(`Add bank ${file.bank.name} from a file`, (placed) => {
      const { bank, mappings, motions, missing } = takeBankFile(placed.show, file, newId);
      const added = addRow(placed, 'banks', bank);
      const moving = addRows(placed, 'motions', motions);
      const rows = addRows(placed, 'mappings', mappings);
      return {
        ops: [...added.ops, ...moving.ops, ...rows.ops],
        result: { name: bank.name, mappings: mappings.length, missing },
      };
    });
  }

  @Get('layout/:id')
  @Header('Content-Type', 'application/json')
  exportLayout(@Param('id') id: string, @Res({ passthrough: true }) response: Response): string {
    const layout = findRow(this.show.current.placed, 'layouts', id);
    named(response, fileNameOf(layout.name, 'layout'));
    return writeJson(layoutFile(layout));
  }

  @Post('layout')
  @AFile()
  async importLayout(@Req() request: Request): Promise<Layout> {
    const { show } = this.show.current.placed;
    const { layout } = wanted(await readFile('layout', bytesOf(request), show, request));
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
  exportMappings(@Res({ passthrough: true }) response: Response): string {
    const { show } = this.show.current.placed;
    named(response, fileNameOf(`${show.settings.name} mappings`, 'table', new Date()));
    return writeMappings(show);
  }

  /** Adds the mappings of a table; lines that can't be taken are said, each with its number, and the others are added. */
  @Post('mappings.csv')
  @AFile()
  async importMappings(
    @Req() request: Request,
    @Query({ schema: csvQuery }) { look }: z.infer<typeof csvQuery>,
  ): Promise<{ added: number; bad: BadLine[] }> {
    const { show } = this.show.current.placed;
    const { mappings, bad } = await readFile('mappings', bytesOf(request), show, request);
    if (look || mappings.length === 0) return { added: mappings.length, bad };
    return this.show.edit(`Add ${mappings.length} mappings from a table`, (placed) => {
      const rows = mappings.map((mapping) => ({ ...mapping, id: newId() }));
      return { ops: putRows(placed, 'mappings', rows), result: { added: rows.length, bad } };
    });
  }

  @Get('moments.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  exportMoments(@Res({ passthrough: true }) response: Response): string {
    const { show } = this.show.current.placed;
    named(response, fileNameOf(`${show.settings.name} running order`, 'table', new Date()));
    return writeMoments(show);
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
    const read = await readFile('moments', bytesOf(request), this.show.current.placed.show, request);
    const { bad } = read;
    const known = new Set(this.show.current.placed.show.moments.map(({ cue }) => cue));
    const changed = read.moments.filter(({ cue }) => known.has(cue)).length;
    const counts = { added: read.moments.length - changed, changed, bad };
    if (look || read.moments.length === 0) return counts;
    return this.show.edit(`Import ${read.moments.length} moments from a table`, (placed) => ({
      ops: importOps(placed, read),
      result: counts,
    }));
  }
}
