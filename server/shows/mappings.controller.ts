import { beginning } from '@tawny-signal/core/show/text';
import { Body, Controller, Delete, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { hearAs } from '@tawny-signal/core/hears';
import { newMapping } from '@tawny-signal/core/mapping/defaults';
import { nextMapping } from '@tawny-signal/core/mapping/next';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { mappingSchema, type Mapping } from '@tawny-signal/core/show/mapping';
import { BadInput } from '../http/problems.js';
import { Gives, Takes } from '../http/json-schema.js';
import { mappingChangeSchema, moveSchema, newMappingSchema, newMappingsSchema } from './requests.js';
import { removeFrom, type Removed } from './removing.js';
import { addRow, addRows, changeRow, findRow, moveRow, newId } from './rows.js';
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
      // It has no send yet: nothing leaves before somebody has said what and where to.
      const start = { ...newMapping(newId(), given.hear ?? hearAs('pressed'), null), sends: [] };
      return addRow(placed, 'mappings', { ...start, ...given }, after);
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
      const name = from.name ? beginning(`${from.name} copy`, 60) : '';
      // Two mappings would fire at once, so the copy is switched off.
      return addRow(placed, 'mappings', { ...from, id: newId(), name, on: false }, id);
    });
  }

  /** The next control sends to the next target: controller 71 to note 112, after controller 70 to note 111. */
  @Post(':id/next')
  @Gives(mappingSchema, 'The copy for the next control, right behind the one it was made from')
  next(@Param('id') id: string): Promise<Mapping> {
    return this.show.edit(`Copy ${this.nameOf(id)} to the next control`, (placed) => {
      const made = nextMapping(findRow(placed, 'mappings', id));
      if (!made)
        throw new BadInput([
          {
            field: 'hear',
            message: 'Nothing comes after what this mapping hears or sends. Copy it, and change the copy.',
          },
        ]);
      return addRow(placed, 'mappings', { ...made, id: newId() }, id);
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
  remove(@Param('id') id: string): Promise<Removed> {
    return removeFrom(this.show, `Remove ${this.nameOf(id)}`, 'mappings', id);
  }

  private nameOf(id: string): string {
    return mappingName(findRow(this.show.current.placed, 'mappings', id));
  }
}
