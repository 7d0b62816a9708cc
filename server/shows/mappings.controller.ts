import { Body, Controller, Delete, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { hearAs } from '@tawny-signal/core/hears';
import { newMapping, shapeFor } from '@tawny-signal/core/mapping/defaults';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { CARRIES } from '@tawny-signal/core/show/line';
import { mappingSchema, type Mapping } from '@tawny-signal/core/show/mapping';
import { Gives, Takes } from '../http/json-schema.js';
import { mappingChangeSchema, moveSchema, newMappingSchema, newMappingsSchema } from './requests.js';
import { addRow, addRows, changeRow, findRow, moveRow, newId, removeRow } from './rows.js';
import { ShowService } from './show.service.js';

@ApiTags('mappings')
@Controller('api/mappings')
export class MappingsController {
  constructor(private readonly show: ShowService) {}

  @Post()
  @Takes(newMappingSchema)
  @Gives(mappingSchema, 'The mapping that was made')
  add(@Body({ schema: newMappingSchema }) body: z.infer<typeof newMappingSchema>): Promise<Mapping> {
    const { after, ...given } = body;
    return this.show.edit('Add a mapping', (placed) => {
      const outLine = placed.show.lines.find((line) => CARRIES[line.kind] === 'osc')?.id ?? null;
      const start = newMapping(newId(), given.hear ?? hearAs('pressed'), outLine);
      const row = { ...start, shape: shapeFor(start.hear.message), ...given };
      return addRow(placed, 'mappings', row, after);
    });
  }

  /** Many at once: one edit, which Undo takes back whole. */
  @Post('spread')
  @Takes(newMappingsSchema)
  @Gives(z.array(mappingSchema), 'The mappings that were made')
  addMany(@Body({ schema: newMappingsSchema }) body: z.infer<typeof newMappingsSchema>): Promise<Mapping[]> {
    const { mappings } = body;
    return this.show.edit(`Spread over ${mappings.length} mappings`, (placed) =>
      addRows(
        placed,
        'mappings',
        mappings.map((mapping) => ({ ...mapping, id: newId() })),
      ),
    );
  }

  @Patch(':id')
  @Takes(mappingChangeSchema)
  @Gives(mappingSchema, 'The mapping as it is now')
  change(
    @Param('id') id: string,
    @Body({ schema: mappingChangeSchema }) body: z.infer<typeof mappingChangeSchema>,
  ): Promise<Mapping> {
    const label = body.on === undefined ? 'Change' : body.on ? 'Switch on' : 'Switch off';
    return this.show.edit(`${label} ${this.nameOf(id)}`, (placed) => changeRow(placed, 'mappings', id, body));
  }

  @Post(':id/copy')
  @Gives(mappingSchema, 'The copy, right behind the one it was made from')
  copy(@Param('id') id: string): Promise<Mapping> {
    return this.show.edit(`Copy ${this.nameOf(id)}`, (placed) => {
      const from = findRow(placed, 'mappings', id);
      const name = from.name ? `${from.name} copy`.slice(0, 60) : '';
      return addRow(placed, 'mappings', { ...from, id: newId(), name }, id);
    });
  }

  @Post(':id/move')
  @Takes(moveSchema)
  @Gives(mappingSchema, 'The mapping that was moved')
  move(
    @Param('id') id: string,
    @Body({ schema: moveSchema }) body: z.infer<typeof moveSchema>,
  ): Promise<Mapping> {
    return this.show.edit(`Move ${this.nameOf(id)}`, (placed) => moveRow(placed, 'mappings', id, body.after));
  }

  @Delete(':id')
  remove(@Param('id') id: string): Promise<null> {
    return this.show.edit(`Remove ${this.nameOf(id)}`, (placed) => removeRow(placed, 'mappings', id));
  }

  private nameOf(id: string): string {
    return mappingName(findRow(this.show.current.placed, 'mappings', id));
  }
}
