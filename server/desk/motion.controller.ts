import { Body, Controller, HttpCode, Param, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { HAND_ACTS } from '@tawny-signal/core/motion/acts';
import type { MotionsSeen } from '@tawny-signal/core/motion/seen';
import { Takes } from '../http/json-schema.js';
import { findRow } from '../shows/rows.js';
import { ShowService } from '../shows/show.service.js';
import { EngineService } from './engine.service.js';

const handSchema = z.object({ act: z.enum(HAND_ACTS) });

/** What is done to motions by hand. The show is not edited. */
@ApiTags('motions')
@Controller('api/desk/motions')
export class MotionController {
  constructor(
    private readonly engine: EngineService,
    private readonly show: ShowService,
  ) {}

  /** Starts or stops a motion, or steps it. @returns what ran when the engine told it last */
  @Post(':id')
  @HttpCode(200)
  @Takes(handSchema)
  async do(
    @Param('id') id: string,
    @Body({ schema: handSchema }) { act }: z.infer<typeof handSchema>,
  ): Promise<MotionsSeen> {
    findRow(this.show.current.placed, 'motions', id);
    await this.engine.doing({ t: 'motion', id, act });
    return this.engine.motions.seen();
  }
}
