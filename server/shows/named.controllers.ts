/** What moments name: groups of slots, looks, and MIDI files. */
import { Body, Controller, Delete, Param, Patch, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { groupSchema, lookSchema, type Group, type Look } from '@tawny-signal/core/show/look';
import { midiFileSchema, type MidiFileRow } from '@tawny-signal/core/show/midi-file';
import { Gives, Takes } from '../http/json-schema.js';
import { namedChangeSchema, newNamedSchema } from './requests.js';
import { addRow, changeRow, findRow, newId, removeRow } from './rows.js';
import { ShowService } from './show.service.js';

type New = z.infer<typeof newNamedSchema>;
type Change = z.infer<typeof namedChangeSchema>;
type NamedTable = 'groups' | 'looks' | 'midiFiles';

const CALLED: Record<NamedTable, string> = { groups: 'group', looks: 'look', midiFiles: 'MIDI file' };

/** The edits that all of them have. */
abstract class NamedRows<Row> {
  protected constructor(
    protected readonly show: ShowService,
    private readonly table: NamedTable,
  ) {}

  protected make(body: New): Promise<Row> {
    return this.show.edit(`Add ${CALLED[this.table]} ${body.name}`, (placed) =>
      addRow(placed, this.table, { ...body, id: newId() }),
    ) as Promise<Row>;
  }

  protected put(id: string, body: Change): Promise<Row> {
    return this.show.edit(`Change ${this.wordsOf(id)}`, (placed) =>
      changeRow(placed, this.table, id, body),
    ) as Promise<Row>;
  }

  protected take(id: string): Promise<null> {
    return this.show.edit(`Remove ${this.wordsOf(id)}`, (placed) => removeRow(placed, this.table, id));
  }

  private wordsOf(id: string): string {
    return `${CALLED[this.table]} ${findRow(this.show.current.placed, this.table, id).name}`;
  }
}

@ApiTags('groups')
@Controller('api/groups')
export class GroupsController extends NamedRows<Group> {
  constructor(show: ShowService) {
    super(show, 'groups');
  }

  @Post()
  @Takes(newNamedSchema)
  @Gives(groupSchema, 'The group that was made')
  add(@Body({ schema: newNamedSchema }) body: New): Promise<Group> {
    return this.make(body);
  }

  @Patch(':id')
  @Takes(namedChangeSchema)
  @Gives(groupSchema, 'The group as it is now')
  change(@Param('id') id: string, @Body({ schema: namedChangeSchema }) body: Change): Promise<Group> {
    return this.put(id, body);
  }

  /** What names it stays, and preflight says that it is gone. */
  @Delete(':id')
  remove(@Param('id') id: string): Promise<null> {
    return this.take(id);
  }
}

@ApiTags('looks')
@Controller('api/looks')
export class LooksController extends NamedRows<Look> {
  constructor(show: ShowService) {
    super(show, 'looks');
  }

  @Post()
  @Takes(newNamedSchema)
  @Gives(lookSchema, 'The look that was made')
  add(@Body({ schema: newNamedSchema }) body: New): Promise<Look> {
    return this.make(body);
  }

  @Patch(':id')
  @Takes(namedChangeSchema)
  @Gives(lookSchema, 'The look as it is now')
  change(@Param('id') id: string, @Body({ schema: namedChangeSchema }) body: Change): Promise<Look> {
    return this.put(id, body);
  }

  @Delete(':id')
  remove(@Param('id') id: string): Promise<null> {
    return this.take(id);
  }
}

@ApiTags('midi-files')
@Controller('api/midi-files')
export class MidiFilesController extends NamedRows<MidiFileRow> {
  constructor(show: ShowService) {
    super(show, 'midiFiles');
  }

  /** The file's bytes in base64. */
  @Post()
  @Takes(newNamedSchema)
  @Gives(midiFileSchema, 'The file as it is kept')
  add(@Body({ schema: newNamedSchema }) body: New): Promise<MidiFileRow> {
    return this.make(body);
  }

  @Patch(':id')
  @Takes(namedChangeSchema)
  @Gives(midiFileSchema, 'The file as it is now')
  change(@Param('id') id: string, @Body({ schema: namedChangeSchema }) body: Change): Promise<MidiFileRow> {
    return this.put(id, body);
  }

  @Delete(':id')
  remove(@Param('id') id: string): Promise<null> {
    return this.take(id);
  }
}
