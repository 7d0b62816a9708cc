/** A program that tells its launcher something again and again, and goes on for a moment when the launcher is gone. */
import { tellLauncher } from './launcher.js';

/** Longer than a message takes, so that the launcher goes while one is on its way. */
const BUSY_MS = 5;
const TELLS_AFTERWARDS = 20;
/** The code of its end if nothing else has ended it. */
const WELL = 7;

let afterwards = 0;
process.on('disconnect', () => (afterwards = 1));
setInterval(() => {
  const end = performance.now() + BUSY_MS;
  while (performance.now() < end);
  tellLauncher({ t: 'alive' });
  if (afterwards > 0 && afterwards++ > TELLS_AFTERWARDS) process.exit(WELL);
}, 1);
