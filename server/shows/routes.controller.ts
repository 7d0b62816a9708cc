import { Body, Controller, Delete, HttpCode, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import type { PlacedShow } from '@tawny-signal/core/edits';
import { misfit, ringOf, ringWords } from '@tawny-signal/core/routes/rings';
import { newRoute } from '@tawny-signal/core/routes/words';
import { CARRIES, isRouted, type Protocol, type RoutedProtocol } from '@tawny-signal/core/show/line';
import { routeSchema, type Route } from '@tawny-signal/core/show/route';
import { EngineService } from '../desk/engine.service.js';
import { Gives, Takes } from '../http/json-schema.js';
import { BadInput } from '../http/problems.js';
import { newRouteSchema, routeChangeSchema } from './requests.js';
import { removeFrom, type Removed } from './removing.js';
import { addRow, changeRow, findRow, newId } from './rows.js';
import { ShowService } from './show.service.js';

/** @throws BadInput where the lines don't carry what the route does, or it would feed itself */
function refuseUnfit({ show }: PlacedShow, route: Route): void {
  const wrong = misfit(show, route);
  if (wrong) throw new BadInput([wrong]);
  const ring = ringOf(show, route);
  if (!ring) return;
  throw new BadInput([
    {
      field: 'toId',
      message: `This route would feed itself: ${ringWords(show, ring)}. Let other channels or messages through, or switch on “Receivers don’t send back”.`,
    },
  ]);
}

const NOT_ROUTED: Record<Exclude<Protocol, RoutedProtocol>, string> = {
  keys: 'Keys can’t be routed: make a mapping that hears them.',
  sound: 'Sound carries only timecode: choose its line in the Time place.',
};

@ApiTags('routes')
@Controller('api/routes')
export class RoutesController {
  constructor(
    private readonly show: ShowService,
    private readonly engine: EngineService,
  ) {}

  /** What is left out lets everything through, as it is. */
  @Post()
  @Takes(newRouteSchema)
  @Gives(routeSchema, 'The route that was made')
  add(@Body({ schema: newRouteSchema }) body: z.infer<typeof newRouteSchema>): Promise<Route> {
    return this.show.edit('Add a route', (placed) => {
      const from = placed.show.lines.find((line) => line.id === body.fromId);
      const carried = from ? CARRIES[from.kind] : 'midi';
      if (!isRouted(carried)) throw new BadInput([{ field: 'fromId', message: NOT_ROUTED[carried] }]);
      const row = { ...newRoute(carried, body.fromId, body.toId), ...body, id: newId() };
      const made = addRow(placed, 'routes', row);
      refuseUnfit(placed, made.result);
      return made;
    });
  }

  @Patch(':id')
  @Takes(routeChangeSchema)
  @Gives(routeSchema, 'The route as it is now')
  change(
    @Param('id') id: string,
    @Body({ schema: routeChangeSchema }) body: z.infer<typeof routeChangeSchema>,
  ): Promise<Route> {
    const { on } = body;
    const label = on === undefined ? 'Change a route' : on ? 'Switch a route on' : 'Switch a route off';
    return this.show.edit(label, (placed) => {
      const made = changeRow(placed, 'routes', id, body);
      refuseUnfit(placed, made.result);
      return made;
    });
  }

  @Delete(':id')
  remove(@Param('id') id: string): Promise<Removed> {
    return removeFrom(this.show, 'Remove a route', 'routes', id);
  }

  /** Opens a route that was cut, since what it sent came back. */
  @Post(':id/restore')
  @HttpCode(200)
  restore(@Param('id') id: string): null {
    findRow(this.show.current.placed, 'routes', id);
    this.engine.restoreRoute(id);
    return null;
  }
}
