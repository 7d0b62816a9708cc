/** Starts the server. Listens on loopback only. */
import 'reflect-metadata';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { WsAdapter } from '@nestjs/platform-ws';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { emptyShow } from '@tawny-signal/core/show';
import { AppModule } from './app.module.js';
import { readConfig } from './config.js';
import { lanternPier } from './demo/lantern-pier.js';
import { DeskService } from './desk/desk.service.js';
import { localOnly } from './http/local-only.js';
import { logger } from './http/logger.js';
import { KnownFieldsPipe } from './http/known-fields.pipe.js';
import { ProblemFilter } from './http/problems.js';
import { ShowService } from './shows/show.service.js';

const WEB = fileURLToPath(new URL('../../web/dist', import.meta.url));

/** How long to wait for the database. After that, the show that the engine plays can be seen but not edited. */
const OPEN_WAIT_MS = 3000;

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
  app.useWebSocketAdapter(new WsAdapter(app));
  app.use(localOnly);
  app.use(
    helmet({
      strictTransportSecurity: false,
      contentSecurityPolicy: {
        // Radix positions its menus with style attributes, and the page of the API has inline styles and a script.
        directives: {
          'style-src': ["'self'", "'unsafe-inline'"],
          // Only the live connection of this host, which was checked before.
          'connect-src': ["'self'", (request) => `ws://${request.headers.host}`],
          'upgrade-insecure-requests': null,
        },
      },
    }),
  );
  app.use(express.json({ limit: '2mb' }));
  app.use(express.raw({ type: 'application/octet-stream', limit: '32mb' }));
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
  await app.listen(config.port, '127.0.0.1');
  const address = app.getHttpServer().address() as { port: number };
  end = () => {
    // A connected browser or a hanging database must not keep the server running.
    setTimeout(() => process.exit(1), LONGEST_CLOSE_MS).unref();
    void app.close().finally(() => process.exit(0));
  };
  if (process.connected) process.send?.({ t: 'listening', port: address.port });
}

/** Serves the built interface. Every path that is not a file is one of its pages. */
function serveWeb(app: NestExpressApplication): void {
  app.use(express.static(WEB, { index: false, maxAge: '1h', immutable: false }));
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.method !== 'GET' || request.path.startsWith('/api/') || request.path.startsWith('/live'))
      return next();
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile('index.html', { root: WEB });
  });
}

start().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
