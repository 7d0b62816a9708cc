/** What the engine tells the launcher that started it. */

/**
 * Tells the launcher something. One that is gone hears nothing, and that is no fault: between its end and the news of it, Node would end the engine for a
 * message that can't be sent, before anything is released.
 */
export function tellLauncher(message: object): void {
  if (process.connected) process.send!(message, undefined, undefined, () => undefined);
}
