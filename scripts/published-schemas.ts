/** The schemas of our files, as published in docs/file-format/. */
import { format, resolveConfig } from 'prettier';
import { z } from 'zod';
import { shiftSchema } from '@tawny-signal/core/typed/file-channels';
import { FILE_SCHEMAS } from '@tawny-signal/core/files/json';

/** @returns names of files with their contents */
export async function publishedSchemas(): Promise<[name: string, text: string][]> {
  const style = await resolveConfig(new URL('.', import.meta.url));
  return Promise.all(
    Object.entries(FILE_SCHEMAS).map(async ([format_, schema]): Promise<[string, string]> => {
      const described = {
        title: format_,
        ...(shiftSchema(z.toJSONSchema(schema, { io: 'input' })) as object),
      };
      return [
        `${format_}.schema.json`,
        await format(JSON.stringify(described), { ...style, parser: 'json' }),
      ];
    }),
  );
}
