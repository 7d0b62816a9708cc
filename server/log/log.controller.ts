import { Body, Controller, Delete, Get, Header, HttpCode, Param, Post, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { z } from 'zod';
import { fileNameOf } from '@tawny-signal/core/files/file-name';
import { line } from '@tawny-signal/core/show/text';
import type { LogEntry, Performance } from '@tawny-signal/core/cues/log';
import { writeLog } from '@tawny-signal/core/files/log-csv';
import { Takes } from '../http/json-schema.js';
import { LogService } from './log.service.js';

const beginSchema = z.object({
  name: line(80, 'A name has at most 80 characters.').default(''),
});

@ApiTags('log')
@Controller('api/log')
export class LogController {
  constructor(private readonly log: LogService) {}

  /** The performances that are kept, the newest first. */
  @Get()
  async list(): Promise<{ current: Performance | null; performances: Performance[] }> {
    return { current: this.log.current, performances: await this.log.performances() };
  }

  /** Begins a performance; the one that runs has ended. */
  @Post('begin')
  @HttpCode(200)
  @Takes(beginSchema)
  begin(@Body({ schema: beginSchema }) { name }: z.infer<typeof beginSchema>): Performance {
    return this.log.begin(name);
  }

  @Post('end')
  @HttpCode(200)
  end(): null {
    this.log.end();
    return null;
  }

  /** What happened in it, in the order of its time. */
  @Get(':id')
  entries(@Param('id') id: string): Promise<LogEntry[]> {
    return this.log.entries(id);
  }

  @Get(':id/table.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  async table(@Param('id') id: string, @Res({ passthrough: true }) response: Response): Promise<string> {
    const called = (await this.log.performances()).find((one) => one.id === id)?.name ?? 'log';
    response.setHeader('Content-Disposition', `attachment; filename="${fileNameOf(called, 'table')}"`);
    return writeLog(await this.log.entries(id));
  }

  @Delete(':id')
  remove(@Param('id') id: string): Promise<void> {
    return this.log.remove(id);
  }
}
