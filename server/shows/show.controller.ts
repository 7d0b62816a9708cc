import { Body, Controller, Get, HttpCode, Patch, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { z } from 'zod';
import { settingsSchema, type Settings, type Show } from '@tawny-signal/core/show';
import { BadInput, problemsOf } from '../http/problems.js';
import { Gives, Takes } from '../http/json-schema.js';
import { settingsChangeSchema } from './requests.js';
import type { UndoLabels } from './edit-history.js';
import { ShowService } from './show.service.js';

const historyQuery = z.object({ most: z.coerce.number().int().min(1).max(500).default(50) });

@ApiTags('show')
@Controller('api')
export class ShowController {
  constructor(private readonly show: ShowService) {}

  /** The whole show, with the positions of its rows and the number of its last edit. Here channels count from 0; in files they count from 1. */
  @Get('show')
  read(): { id: string; rev: number; channelsFrom: 0; show: Show; position: Record<string, number> } {
    const { rev, placed } = this.show.current;
    return { id: this.show.showId, rev, channelsFrom: 0, ...placed };
  }

  @Patch('show/settings')
  @Takes(settingsChangeSchema)
  @Gives(settingsSchema, 'The settings as they are now')
  settings(
    @Body({ schema: settingsChangeSchema }) body: z.infer<typeof settingsChangeSchema>,
  ): Promise<Settings> {
    return this.show.edit('Change the show’s settings', ({ show }) => {
      const parsed = settingsSchema.safeParse({ ...show.settings, ...body });
      if (!parsed.success) throw new BadInput(problemsOf(parsed.error.issues));
      return { ops: [{ op: 'settings', settings: parsed.data }], result: parsed.data };
    });
  }

  /** What Undo and Redo would do now. */
  @Get('undo')
  labels(): Promise<UndoLabels> {
    return this.show.undoLabels();
  }

  @Post('undo')
  @HttpCode(200)
  async undo(): Promise<{ label: string | null }> {
    return { label: await this.show.undo() };
  }

  @Post('redo')
  @HttpCode(200)
  async redo(): Promise<{ label: string | null }> {
    return { label: await this.show.redo() };
  }

  /** The last edits, the newest first. */
  @Get('edits')
  edits(@Query({ schema: historyQuery }) query: z.infer<typeof historyQuery>): Promise<object[]> {
    return this.show.edits(query.most);
  }
}
