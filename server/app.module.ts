import { Module } from '@nestjs/common';
import type { Pool } from 'pg';
import { DATABASE, openDatabase, openPool, POOL } from './database/database.js';
import { Saving } from './database/saving.js';
import { APP_GUARD } from '@nestjs/core';
import { DeskController } from './desk/desk.controller.js';
import { LtcFileController } from './time/ltc-file.controller.js';
import { MotionController } from './desk/motion.controller.js';
import { TimeController } from './desk/time.controller.js';
import { DeskService } from './desk/desk.service.js';
import { EngineService } from './desk/engine.service.js';
import { LiveGateway } from './desk/live.gateway.js';
import { LogController } from './log/log.controller.js';
import { LogService } from './log/log.service.js';
import { BanksController } from './shows/banks.controller.js';
import { FilesController } from './shows/files.controller.js';
import { LinesController } from './shows/lines.controller.js';
import { MappingsController } from './shows/mappings.controller.js';
import { MomentsController } from './shows/moments.controller.js';
import { PLAIN_CONTROLLERS } from './shows/plain-rows.controllers.js';
import { TIME_ROW_CONTROLLERS } from './shows/time-rows.controllers.js';
import { RoutesController } from './shows/routes.controller.js';
import { ShowController } from './shows/show.controller.js';
import { ShowService } from './shows/show.service.js';
import { ShowsController, VersionsController } from './shows/shows.controller.js';
import { ShowsService } from './shows/shows.service.js';
import { VersionsService } from './shows/versions.service.js';
import { ScoreController } from './stand-ins/score.controller.js';
import { createDoorHolder, DOORS } from './people/doors.js';
import { MayGuard } from './people/may.guard.js';
import { PeopleController } from './people/people.controller.js';
import { PeopleService } from './people/people.service.js';
import { CONFIG, readConfig, type Config } from './config.js';

@Module({
  controllers: [
    ShowController,
    ShowsController,
    VersionsController,
    LinesController,
    BanksController,
    MappingsController,
    RoutesController,
    MomentsController,
    ...PLAIN_CONTROLLERS,
    FilesController,
    LogController,
    DeskController,
    TimeController,
    MotionController,
    LtcFileController,
    ...TIME_ROW_CONTROLLERS,
    ScoreController,
    PeopleController,
  ],
  providers: [
    { provide: CONFIG, useFactory: readConfig },
    { provide: POOL, useFactory: (config: Config) => openPool(config.databaseUrl), inject: [CONFIG] },
    { provide: DATABASE, useFactory: (pool: Pool) => openDatabase(pool), inject: [POOL] },
    { provide: APP_GUARD, useClass: MayGuard },
    { provide: DOORS, useFactory: createDoorHolder },
    PeopleService,
    Saving,
    ShowService,
    ShowsService,
    VersionsService,
    EngineService,
    LogService,
    LiveGateway,
    DeskService,
  ],
})
export class AppModule {}
