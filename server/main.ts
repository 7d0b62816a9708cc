/** Starts the server. Listens on loopback only. */
import 'reflect-metadata';
import { existsSync, readFileSync } from 'node:fs';
import type { RequestListener, Server } from 'node:http';
import { join } from 'node:path';
import { setTimeout as delay } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import express, { type NextFunction, type Request, type Response } from 'express';
import { PAGE_ID } from '@tawny-signal/core/people/here';
import type { Shown } from '@tawny-signal/core/people/people';
import { emptyShow } from '@tawny-signal/core/show';
import { AppModule } from './app.module.js';
import { CONFIG, readConfig, type Config } from './config.js';
import { lanternPier } from './demo/lantern-pier.js';
import { DeskService } from './desk/desk.service.js';
import { LiveDoor } from './desk/live-door.js';
import { bodies } from './http/bodies.js';
import { NONCE, nonceOf, securityHeaders } from './http/headers.js';
import { logger } from './http/logger.js';
import { KnownFieldsPipe } from './http/known-fields.pipe.js';
import { ProblemFilter } from './http/problems.js';
import { createAnnouncer } from './people/announcer.js';
import { askedBy } from './people/asking.js';
import { givenCertificate, ownCertificate } from './people/certificate.js';
import { doorkeeper, whoAsks } from './people/doorkeeper.js';
import { DOORS, openDoors, type DoorHolder } from './people/doors.js';
import { PeopleService } from './people/people.service.js';
import { ShowService } from './shows/show.service.js';

const WEB = fileURLToPath(new URL('../../web/dist', import.meta.url));

/** How long to wait for the database. After that, the show that the engine plays can be seen but not edited. */
const OPEN_WAIT_MS = 3000;

/** How often a port that another program has is tried again. */
const TAKEN_MS = 300;

/** Closing takes no longer than this. */
const LONGEST_CLOSE_MS = 3000;

/** Ends the server when its parent process ends. */
let end = (): void => process.exit(0);

async function start(): Promise<void> {
  process.on('disconnect', () => end());
  // The parent ended while the server was being loaded.
  if (process.send && !process.connected) end();
  const config = readConfig();
  const app = await NestFactory.create<NestExpressApplication>(AppModule, { logger, bodyParser: false });
  const people = app.get(PeopleService);
  app.useWebSocketAdapter(new LiveDoor(app, (request) => people.identify(request)));
  app.use(doorkeeper((request) => people.identify(request)));
  app.use(securityHeaders);
  app.use(bodies());
  app.use((request: Request, _: Response, next: NextFunction) => {
    const page = request.get('X-Page') ?? '';
    askedBy(whoAsks.get(request) ?? null, PAGE_ID.test(page) ? page : '', next);
  });
  app.useGlobalFilters(new ProblemFilter());
  app.useGlobalPipes(new KnownFieldsPipe());
  const description = new DocumentBuilder().setTitle('Tawny Signal').setVersion('1').build();
  SwaggerModule.setup('api/docs', app, () => SwaggerModule.createDocument(app, description));
  if (existsSync(WEB)) serveWeb(app);
  app.enableShutdownHooks();

  const show = app.get(ShowService);
  const desk = app.get(DeskService);
  show.whenOpen = () => void desk.opened().catch((error: unknown) => logger.error(error, 'log'));
  const opened = show.open(
    config.demoPorts === null ? emptyShow('New show') : lanternPier(config.demoPorts),
    OPEN_WAIT_MS,
  );
  desk.start();
  await opened;
  await listen(app, config);
  const address = app.getHttpServer().address() as { port: number };
  const passphrases = await openToOthers(app, people, address.port);
  end = () => {
    // A connected browser or a hanging database must not keep the server running.
    setTimeout(() => process.exit(1), LONGEST_CLOSE_MS).unref();
    const { doors, announcer } = app.get<DoorHolder>(DOORS);
    const said = announcer?.close();
    doors?.close();
    void Promise.all([said, app.close()]).finally(() => process.exit(0));
  };
  if (process.connected) process.send?.({ t: 'listening', port: address.port, passphrases });
}

/** Listens on loopback. Where another program has taken the port of a server that was there before, it is waited for. */
async function listen(app: NestExpressApplication, { port, again }: Config): Promise<void> {
  for (let told = false; ; told = true) {
    try {
      await app.listen(port, '127.0.0.1');
      return;
    } catch (error) {
      if (!again || (error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
      if (!told) process.send?.({ t: 'taken', port });
      await delay(TAKEN_MS);
    }
  }
}

/** Opens the page at the addresses that somebody chose. @returns the passphrases that were made for it, to be shown once */
async function openToOthers(
  app: NestExpressApplication,
  people: PeopleService,
  port: number,
): Promise<Shown> {
  const holder = app.get<DoorHolder>(DOORS);
  const handler = app.getHttpAdapter().getInstance() as RequestListener;
  const config = app.get<Config>(CONFIG);
  holder.doors = openDoors(app.getHttpServer() as Server, port, handler, async (names) =>
    config.certificate
      ? givenCertificate(config.certificate, names)
      : { certificate: await ownCertificate(join(config.state, 'tls'), names), notFor: [] },
  );
  holder.announcer = createAnnouncer(() => holder.urls());
  const { listen, hereToo } = people.opening;
  const made = listen.length > 0 || hereToo ? await people.makeMissing() : {};
  await holder.set(people.opening);
  for (const { address, why } of holder.troubles()) logger.warn(`not open at ${address}: ${why}`, 'people');
  return made;
}

/** Serves the built interface. Every path that is not a file is one of its pages. */
function serveWeb(app: NestExpressApplication): void {
  const page = readFileSync(join(WEB, 'index.html'), 'utf8');
  app.use(express.static(WEB, { index: false, maxAge: '1h', immutable: false }));
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.method !== 'GET' || request.path.startsWith('/api/') || request.path.startsWith('/live'))
      return next();
    response.setHeader('Cache-Control', 'no-cache');
    response.type('html').send(page.replaceAll(NONCE, nonceOf(response)));
  });
}

start().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
