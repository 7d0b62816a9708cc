import { Body, Controller, Get, HttpCode, NotFoundException, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { Takes } from '../http/json-schema.js';
import type { DeskState } from '@tawny-signal/core/live/messages';
import { DeskService } from './desk.service.js';
import { EngineService } from './engine.service.js';

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

  /** Makes the engine thread fail, where the server was started for tests. */
  @Post('fail-engine')
  @HttpCode(200)
  fail(): DeskState {
    if (process.env['TAWNY_TESTS'] !== '1') throw new NotFoundException();
    this.engine.fail();
    return this.desk.state;
  }
}
