import { Body, Controller, Get, HttpCode, NotFoundException, Post, Put, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { Takes } from '../http/json-schema.js';
import {
  orderActSchema,
  type DeskState,
  type OrderSeen,
  type WhyStep,
} from '@tawny-signal/core/live/messages';
import { DeskService } from './desk.service.js';
import { EngineService } from './engine.service.js';

const whyQuery = z.object({ seq: z.coerce.number().int().min(0).max(0xffff_ffff) });
const armedSchema = z.object({ armed: z.boolean() });

@ApiTags('desk')
@Controller('api/desk')
export class DeskController {
  constructor(
    private readonly desk: DeskService,
    private readonly engine: EngineService,
  ) {}

  @Get()
  read(): DeskState {
    return this.desk.state;
  }

  /** Armed: signals go out. Safe: everything is heard and shown, nothing goes out. */
  @Put('armed')
  @Takes(armedSchema)
  armed(@Body({ schema: armedSchema }) body: z.infer<typeof armedSchema>): Promise<DeskState> {
    return this.desk.setArmed(body.armed);
  }

  /** Releases all that sounds or is held. */
  @Post('panic')
  @HttpCode(200)
  panic(): DeskState {
    this.desk.panic();
    return this.desk.state;
  }

  /** What stands by, runs and follows. */
  @Get('order')
  orderNow(): OrderSeen {
    return this.engine.orderSeen;
  }

  /** Go, hold, stop, stand by … What is not heeded changes nothing. */
  @Post('order')
  @HttpCode(200)
  @Takes(orderActSchema)
  order(@Body({ schema: orderActSchema }) act: z.infer<typeof orderActSchema>): OrderSeen {
    this.engine.order(act);
    return this.engine.orderSeen;
  }

  /** A beat of the tempo. */
  @Post('tap')
  @HttpCode(200)
  tap(): DeskState {
    this.engine.tap();
    return this.desk.state;
  }

  /** What the engine made of a message when it came, by its number in the traffic; null where that is too long ago. */
  @Get('why')
  async why(
    @Query({ schema: whyQuery }) query: z.infer<typeof whyQuery>,
  ): Promise<{ steps: WhyStep[] | null }> {
    return { steps: await this.engine.why(query.seq) };
  }

  /** Makes the engine thread fail, where the server was started for tests. */
  @Post('fail-engine')
  @HttpCode(200)
  fail(): DeskState {
    if (process.env['TAWNY_TESTS'] !== '1') throw new NotFoundException();
    this.engine.fail();
    return this.desk.state;
  }
}
