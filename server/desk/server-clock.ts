/** The server's clock for browsers: milliseconds since 1970 with fractions, which never fall. */
export const serverClock = (): number => performance.timeOrigin + performance.now();
