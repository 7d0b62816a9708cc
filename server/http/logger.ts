/** Nest's logging, written by pino. */
import type { LoggerService } from '@nestjs/common';
import { pino } from 'pino';

const root = pino({ level: process.env['TAWNY_LOG'] ?? 'info', base: null });

const said = (message: unknown): string =>
  message instanceof Error
    ? (message.stack ?? message.message)
    : typeof message === 'string'
      ? message
      : JSON.stringify(message);
/** Nest gives the name of who speaks last. */
const who = (rest: unknown[]): object => ({ who: String(rest.at(-1) ?? 'server') });

export const logger: LoggerService = {
  log: (message: unknown, ...rest: unknown[]) => root.info(who(rest), said(message)),
  warn: (message: unknown, ...rest: unknown[]) => root.warn(who(rest), said(message)),
  error: (message: unknown, ...rest: unknown[]) => root.error(who(rest), said(message)),
  debug: (message: unknown, ...rest: unknown[]) => root.debug(who(rest), said(message)),
  verbose: (message: unknown, ...rest: unknown[]) => root.trace(who(rest), said(message)),
};
