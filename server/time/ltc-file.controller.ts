/** Linear timecode as a WAV file. It is made while it is sent, so that hours of it need no memory, and ends when nobody takes it any more. */
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Controller, Get, Query, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { z } from 'zod';
import { wavHeader, writeSamples } from '@tawny-signal/core/files/wav';
import { frameRate } from '@tawny-signal/core/time/ways/way';
import { createLtcEncoder } from '@tawny-signal/core/timecode/ltc/encoder';
import { readLtcRange, SAMPLE_RATES } from '@tawny-signal/core/timecode/ltc/range';
import { BadInput } from '../http/problems.js';

const LEVEL = 'A level is -40 to 0 dB.';
const fileQuery = z.object({
  from: z.string().max(20),
  to: z.string().max(20),
  rate: frameRate.default('25'),
  sampleRate: z.coerce
    .number()
    .pipe(z.union(SAMPLE_RATES.map((rate) => z.literal(rate))))
    .default(48_000),
  levelDb: z.coerce.number().min(-40, LEVEL).max(0, LEVEL).default(-12),
});

/** Files that are made at the same time: more would only make each other slower. */
const MOST_FILES = 2;
/** Samples that are made at once: between them, the process does its other work. */
const BLOCK = 24_000;

@ApiTags('time')
@Controller('api/ltc')
export class LtcFileController {
  private making = 0;

  /** From one frame to another, the last one included. One channel of 24 bits. */
  @Get('file')
  async file(
    @Query({ schema: fileQuery }) query: z.infer<typeof fileQuery>,
    @Res() response: Response,
  ): Promise<void> {
    const { rate, sampleRate, levelDb } = query;
    const range = readLtcRange(query.from, query.to, rate, sampleRate);
    if (!range.ok) throw new BadInput([{ field: range.field, message: range.reason }]);
    if (this.making >= MOST_FILES)
      throw new BadInput([
        { field: 'from', message: 'Two files are being made already. Wait for one, or stop its download.' },
      ]);
    const { from, samples } = range.value;
    const header = wavHeader(sampleRate, samples);
    response.setHeader('Content-Type', 'audio/wav');
    response.setHeader('Content-Length', header.length + samples * 3);
    const name = `ltc ${query.from.trim()} to ${query.to.trim()} ${rate}.wav`.replace(/[:;]/g, '-');
    response.setHeader('Content-Disposition', `attachment; filename="${name}"`);

    function* sound(): Generator<Uint8Array> {
      yield header;
      const encoder = createLtcEncoder({ sampleRate, rate, from, levelDb });
      while (encoder.made() < samples) {
        const block = new Float32Array(Math.min(BLOCK, samples - encoder.made()));
        encoder.fill(block);
        yield writeSamples(block);
      }
    }
    // Whoever stops the download ends the making.
    this.making++;
    await pipeline(Readable.from(sound(), { objectMode: false }), response).catch(() => undefined);
    this.making--;
  }
}
