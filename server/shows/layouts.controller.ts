import { Body, Controller, Delete, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { layoutSchema, type Layout } from '@tawny-signal/core/show/layout';
import { Gives, Takes } from '../http/json-schema.js';
import { layoutChangeSchema, newLayoutSchema } from './requests.js';
import { addRow, changeRow, findRow, newId, removeRow } from './rows.js';
import { ShowService } from './show.service.js';

@ApiTags('layouts')
@Controller('api/layouts')
export class LayoutsController {
  constructor(private readonly show: ShowService) {}

  @Post()
  @Takes(newLayoutSchema)
  @Gives(layoutSchema, 'The layout that was made')
  add(@Body({ schema: newLayoutSchema }) body: z.infer<typeof newLayoutSchema>): Promise<Layout> {
    return this.show.edit(`Add layout ${body.name}`, (placed) =>
      addRow(placed, 'layouts', { lineId: null, controls: [], ...body, id: newId() }),
    );
  }

  @Patch(':id')
  @Takes(layoutChangeSchema)
  @Gives(layoutSchema, 'The layout as it is now')
  change(
    @Param('id') id: string,
    @Body({ schema: layoutChangeSchema }) body: z.infer<typeof layoutChangeSchema>,
  ): Promise<Layout> {
    const { name } = findRow(this.show.current.placed, 'layouts', id);
    return this.show.edit(`Change layout ${name}`, (placed) => changeRow(placed, 'layouts', id, body));
  }

  @Delete(':id')
  remove(@Param('id') id: string): Promise<null> {
    const { name } = findRow(this.show.current.placed, 'layouts', id);
    return this.show.edit(`Remove layout ${name}`, (placed) => removeRow(placed, 'layouts', id));
  }
}
