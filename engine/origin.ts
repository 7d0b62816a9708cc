/** When the monotonic clock of this process was 0, in milliseconds since 1970 by the clock that all processes have in common (core/link/common-clock). */
import { CLOCK_VARIABLE, commonOrigin } from '@tawny-signal/core/link/common-clock';

export const ORIGIN = commonOrigin(
  process.env[CLOCK_VARIABLE],
  Number(process.hrtime.bigint()) / 1e6,
  performance.now(),
  performance.timeOrigin,
);
