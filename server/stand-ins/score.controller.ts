import { Controller, HttpCode, Post, Query, Req, ServiceUnavailableException } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { z } from 'zod';
import { line } from '@tawny-signal/core/show/text';
import { readMidiFile } from '@tawny-signal/core/midi/file';
import { LiveGateway } from '../desk/live.gateway.js';
import { BadInput } from '../http/problems.js';

const nameQuery = z.object({
  name: line(120, 'A name has at most 120 characters.').min(1).default('A MIDI file'),
});

@ApiTags('stand-ins')
@Controller('api/stand-ins/score-player')
export class ScoreController {
  constructor(private readonly live: LiveGateway) {}

  /** Gives the score player another MIDI file to play, as the bytes of the file. */
  @Post('file')
  @HttpCode(200)
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  file(
    @Req() request: Request,
    @Query({ schema: nameQuery }) query: z.infer<typeof nameQuery>,
  ): { name: string; durationMs: number; tempo: number; messages: number } {
    const bytes = request.body as unknown;
    const read = readMidiFile(Buffer.isBuffer(bytes) ? bytes : new Uint8Array(0));
    if (!read.ok) throw new BadInput([{ field: 'file', message: read.reason }]);
    const { durationMs, tempo, events } = read.file;
    if (events.length === 0)
      throw new BadInput([{ field: 'file', message: 'This MIDI file has no notes or controllers in it.' }]);
    const there = this.live.ask('score-player', {
      do: 'load',
      name: query.name,
      file: (bytes as Buffer).toString('base64'),
    });
    if (!there) {
      throw new ServiceUnavailableException(
        'The score player is not running. It starts with npm start; wait a moment and try again.',
      );
    }
    return { name: query.name, durationMs, tempo, messages: events.length };
  }
}
