import { parseArgs, type ParseArgsConfig } from 'node:util';

/** Reads what a command was told. What it does not know ends it, with a line that says where to look. */
export function optionsOf<T extends ParseArgsConfig>(
  command: string,
  config: T,
): ReturnType<typeof parseArgs<T>> {
  try {
    return parseArgs(config);
  } catch (error) {
    console.error(
      `\n${error instanceof Error ? error.message : String(error)}\n${command === 'test' ? 'npm test' : `npm run ${command}`} -- --help says what there is.\n`,
    );
    process.exit(1);
  }
}
