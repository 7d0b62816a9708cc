/** The server's clock for browsers, which is that of the engine: milliseconds since 1970 with fractions, which never fall. */
import { CLOCK_VARIABLE, commonOrigin } from '@tawny-signal/core/link/common-clock';

const ORIGIN = commonOrigin(
  process.env[CLOCK_VARIABLE],
  Number(process.hrtime.bigint()) / 1e6,
  performance.now(),
  performance.timeOrigin,
);

export const serverClock = (): number => ORIGIN + performance.now();
