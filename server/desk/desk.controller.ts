import {
  Body,
  Controller,
  Get,
  Headers,
  HttpCode,
  NotFoundException,
  Param,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { cutText } from '@tawny-signal/core/show/text';
import { Takes } from '../http/json-schema.js';
import {
  orderActSchema,
  type DeskState,
  type OrderSeen,
  type WhyStep,
} from '@tawny-signal/core/live/messages';
import { DeskService } from './desk.service.js';
import { EngineAway } from '../http/problems.js';
import { nameOfAsker } from '../people/asking.js';
import { readPress } from './presses.js';
import { EngineService } from './engine.service.js';
import { serverClock } from './server-clock.js';

const whyQuery = z.object({ seq: z.coerce.number().int().min(0).max(0xffff_ffff) });
const lockedSchema = z.object({ locked: z.boolean() });
const armedSchema = z.object({ armed: z.boolean() });

const LONGEST_NAME = 40;

/** Who asks, for the log: the person who has signed in, and the name of the desk, which is written as in an address since a header holds no letters but Latin ones. */
function deskName(header: string | undefined): string {
  const named = [nameOfAsker(), nameIn(header)].filter((name) => name !== '');
  return cutText([...new Set(named)].join(', '), LONGEST_NAME);
}

function nameIn(header: string | undefined): string {
  try {
    return cutText(decodeURIComponent(header ?? ''), LONGEST_NAME);
  } catch {
    return '';
  }
}

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

  /** Locked: armed, and nothing can be edited. */
  @Put('locked')
  @Takes(lockedSchema)
  locked(@Body({ schema: lockedSchema }) body: z.infer<typeof lockedSchema>): Promise<DeskState> {
    return this.desk.setLocked(body.locked);
  }

  /** Releases all that sounds or is held. `done` is false while the engine is away: then it is done first of all once it is back. */
  @Post('panic')
  @HttpCode(200)
  async panic(@Headers('x-desk-name') desk: string | undefined): Promise<DeskState & { done: boolean }> {
    const done = await this.desk.panic(deskName(desk));
    return { ...this.desk.state, done };
  }

  /** What stands by, runs and follows. */
  @Get('order')
  orderNow(): OrderSeen {
    if (!this.engine.here) throw new EngineAway();
    return this.engine.orderSeen;
  }

  /**
   * Go, hold, stop, stand by … An act that does nothing now changes nothing. One header names the desk, for the log. Another may name the press and its time
   * (`id ms`): then the act is done once however often it comes, and a call that arrives late is refused.
   */
  @Post('order')
  @HttpCode(200)
  @Takes(orderActSchema)
  order(
    @Body({ schema: orderActSchema }) act: z.infer<typeof orderActSchema>,
    @Headers('x-desk-name') desk: string | undefined,
    @Headers('x-press') press: string | undefined,
  ): Promise<OrderSeen> {
    return this.engine.order(act, deskName(desk), readPress(press, serverClock()));
  }

  /** What the slots of a line were sent last, slot 1 first, as they were told within the last second; all off where nothing was sent. */
  @Get('levels/:lineId')
  levels(@Param('lineId') lineId: string): number[] {
    const levels = this.engine.levels[lineId];
    return levels === undefined ? new Array<number>(512).fill(0) : [...Buffer.from(levels, 'base64')];
  }

  /** What the engine made of a message when it came, by its number in the traffic; null where that is too long ago. */
  @Get('why')
  async why(
    @Query({ schema: whyQuery }) query: z.infer<typeof whyQuery>,
  ): Promise<{ steps: WhyStep[] | null }> {
    return { steps: await this.engine.why(query.seq) };
  }

  /** Makes the engine fail, where the server was started for tests. */
  @Post('fail-engine')
  @HttpCode(200)
  fail(): DeskState {
    if (process.env['TAWNY_TESTS'] !== '1') throw new NotFoundException();
    this.engine.fail();
    return this.desk.state;
  }
}
