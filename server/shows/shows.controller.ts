/** The list of shows, and the versions of the open one. */
import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Param,
  Patch,
  Post,
  Query,
  Res,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { z } from 'zod';
import { fileNameOf } from '@tawny-signal/core/files/file-name';
import { writeJson } from '@tawny-signal/core/files/json';
import { name } from '@tawny-signal/core/show/fields';
import { Takes } from '../http/json-schema.js';
import { ShowService } from './show.service.js';
import type { ListedShow, ListedVersion } from './shows-store.js';
import { ShowsService } from './shows.service.js';
import { NOW, VersionsService, type Comparison } from './versions.service.js';

const newShow = z.object({
  name,
  /** True to take over lines, layouts and groups of the open show. */
  withLines: z.boolean().default(false),
});
const showChange = z.object({ name: name.optional(), archived: z.boolean().optional() });
const versionName = z.object({ name });
const compareQuery = z.object({ to: z.string().max(64).default(NOW) });

@ApiTags('shows')
@Controller('api/shows')
export class ShowsController {
  constructor(
    private readonly shows: ShowsService,
    private readonly show: ShowService,
  ) {}

  /** All shows, the one that was opened last first. */
  @Get()
  async list(): Promise<{ openId: string; shows: ListedShow[] }> {
    return { openId: this.show.showId, shows: await this.shows.list() };
  }

  /** Makes a show, and opens it. */
  @Post()
  @Takes(newShow)
  async begin(@Body({ schema: newShow }) body: z.infer<typeof newShow>): Promise<{ id: string }> {
    return { id: await this.shows.begin(body.name, body.withLines) };
  }

  @Post(':id/open')
  @HttpCode(200)
  async open(@Param('id') id: string): Promise<{ name: string }> {
    await this.shows.open(id);
    return { name: this.show.current.placed.show.settings.name };
  }

  @Post(':id/copy')
  async copy(@Param('id') id: string): Promise<{ id: string }> {
    return { id: await this.shows.copy(id) };
  }

  @Patch(':id')
  @Takes(showChange)
  async change(
    @Param('id') id: string,
    @Body({ schema: showChange }) body: z.infer<typeof showChange>,
  ): Promise<null> {
    if (body.name !== undefined) await this.shows.rename(id, body.name);
    if (body.archived !== undefined) await this.shows.archive(id, body.archived);
    return null;
  }
}

@ApiTags('versions')
@Controller('api/versions')
export class VersionsController {
  constructor(
    private readonly versions: VersionsService,
    private readonly shows: ShowsService,
  ) {}

  /** The versions of the open show, the newest first. */
  @Get()
  list(): Promise<ListedVersion[]> {
    return this.versions.list();
  }

  @Post()
  @Takes(versionName)
  add(@Body({ schema: versionName }) body: z.infer<typeof versionName>): Promise<ListedVersion> {
    return this.versions.add(body.name);
  }

  /** What differs from a version to another one, or to the show as it is now. */
  @Get(':id/compare')
  compare(
    @Param('id') id: string,
    @Query({ schema: compareQuery }) { to }: z.infer<typeof compareQuery>,
  ): Promise<Comparison> {
    return this.versions.compare(id, to);
  }

  @Post(':id/restore')
  @HttpCode(200)
  async restore(@Param('id') id: string): Promise<{ label: string }> {
    return { label: await this.versions.restore(id) };
  }

  /** Adds a show that is as this version, and opens it. */
  @Post(':id/show')
  async asShow(
    @Param('id') id: string,
    @Body({ schema: versionName }) body: z.infer<typeof versionName>,
  ): Promise<{ id: string }> {
    const { show } = await this.versions.find(id);
    return { id: await this.shows.addAndOpen({ ...show, settings: { ...show.settings, name: body.name } }) };
  }

  @Get(':id/file')
  @Header('Content-Type', 'application/json')
  async file(@Param('id') id: string, @Res({ passthrough: true }) response: Response): Promise<string> {
    const { show, name: version, at } = await this.versions.find(id);
    const called = fileNameOf(`${show.settings.name} ${version}`, 'show', at ?? new Date());
    response.setHeader('Content-Disposition', `attachment; filename="${called}"`);
    return writeJson(show);
  }

  @Patch(':id')
  @Takes(versionName)
  async rename(
    @Param('id') id: string,
    @Body({ schema: versionName }) body: z.infer<typeof versionName>,
  ): Promise<null> {
    await this.versions.rename(id, body.name);
    return null;
  }

  @Delete(':id')
  async remove(@Param('id') id: string): Promise<null> {
    await this.versions.remove(id);
    return null;
  }
}
