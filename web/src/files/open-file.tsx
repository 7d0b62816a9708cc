/** A button that opens a file of ours. Errors are shown, and the show stays as it is. */
import { useMutation } from '@tanstack/react-query';
import { call } from '../show/api';
import { FileButton } from '../ui/file-button';
import { notify } from '../ui/notice';

type Kind = 'bank' | 'layout';

interface Opened {
  name: string;
  mappings?: number;
  missing?: string[];
}

/** The message once the file was opened. */
function openedWords(kind: Kind, { name, mappings, missing = [] }: Opened): string {
  const what = {
    bank: `Added bank ${name}`,
    layout: `Added layout ${name}`,
  }[kind];
  const how = mappings === undefined ? '' : `, ${mappings} ${mappings === 1 ? 'mapping' : 'mappings'}`;
  const lacks =
    missing.length > 0
      ? ` Not here: ${missing.join(', ')}. Choose lines for what was on ${missing.length === 1 ? 'it' : 'them'}.`
      : '';
  return `${what}${how}.${lacks}`;
}

export function OpenFile({ kind, words }: { kind: Kind; words: string }) {
  const open = useMutation({
    mutationFn: (file: File) => call<Opened>('POST', `files/${kind}`, file),
    onSuccess: (opened) => notify(openedWords(kind, opened)),
    onError: (error) => notify(error.message, { look: 'fault' }),
    networkMode: 'always',
  });
  return (
    <FileButton
      needs="edit"
      words={words}
      accept=".json,application/json"
      take={(file) => open.mutate(file)}
    />
  );
}
