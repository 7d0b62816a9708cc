import { Body, Controller, HttpCode, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { positionActSchema } from '@tawny-signal/core/live/messages';
import { tempo } from '@tawny-signal/core/show/fields';
import type { Transport } from '@tawny-signal/core/time/transport';
import { Takes } from '../http/json-schema.js';
import { EngineService } from './engine.service.js';

const tempoSchema = z.object({ bpm: tempo });
const tempoSourceSchema = z.object({ source: z.string().min(1).max(64) });

/** The tempo and the position as they are now. They are neither rows nor edits of the show. */
@ApiTags('time')
@Controller('api/desk')
export class TimeController {
  constructor(private readonly engine: EngineService) {}

  /** The tempo from now on, in beats a minute; the beat stays. The show itself, which says what tempo it opens with, is not edited. */
  @Put('tempo')
  @Takes(tempoSchema)
  setTempo(@Body({ schema: tempoSchema }) { bpm }: z.infer<typeof tempoSchema>): Promise<Transport | null> {
    return this.do({ t: 'tempo', bpm });
  }

  /** The clock that the tempo follows: the id of a source, `own`, or `auto` for the first that is heard. */
  @Put('tempo-source')
  @Takes(tempoSourceSchema)
  follow(
    @Body({ schema: tempoSourceSchema }) { source }: z.infer<typeof tempoSourceSchema>,
  ): Promise<Transport | null> {
    return this.do({ t: 'tempoSource', source });
  }

  /** A beat of the tempo. */
  @Post('tap')
  @HttpCode(200)
  tap(): Promise<Transport | null> {
    return this.do({ t: 'tap' });
  }

  /** Play, stop, go to a place … of the show's position. */
  @Post('position')
  @HttpCode(200)
  @Takes(positionActSchema)
  position(
    @Body({ schema: positionActSchema }) act: z.infer<typeof positionActSchema>,
  ): Promise<Transport | null> {
    return this.do({ t: 'position', act });
  }

  private async do(asked: Parameters<EngineService['doing']>[0]): Promise<Transport | null> {
    await this.engine.doing(asked);
    return this.engine.transport;
  }
}
