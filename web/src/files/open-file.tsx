/** Opens one of our files: what is wrong with it is said, and nothing of the show is lost. */
import { Upload } from 'lucide-react';
import { useId } from 'react';
import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { call } from '../show/api';

type Kind = 'show' | 'bank' | 'layout';

interface Opened {
  name: string;
  mappings?: number;
  missing?: string[];
}

/** What is said once it is there. */
function openedWords(kind: Kind, { name, mappings, missing = [] }: Opened): string {
  const what = {
    show: `Opened the show ${name}`,
    bank: `Added bank ${name}`,
    layout: `Added layout ${name}`,
  }[kind];
  const how = mappings === undefined ? '' : `, ${mappings} ${mappings === 1 ? 'mapping' : 'mappings'}`;
  const lacks =
    missing.length > 0
      ? ` Not here: ${missing.join(', ')}. Choose lines for what was on ${missing.length === 1 ? 'it' : 'them'}.`
      : '';
  return `${what}${how}.${lacks}${kind === 'show' ? ' Undo brings the show before it back.' : ''}`;
}

export function OpenFile({ kind, words }: { kind: Kind; words: string }) {
  const id = useId();
  const open = useMutation({
    mutationFn: (file: File) => call<Opened>('POST', `files/${kind}`, file),
    onSuccess: (opened) => toast(openedWords(kind, opened), { duration: 8000 }),
    onError: (error) => toast.error(error.message, { duration: 12_000 }),
    networkMode: 'always',
  });
  return (
    <label
      htmlFor={id}
      className="inline-flex min-h-8 cursor-pointer items-center gap-1.5 rounded border border-rule px-2.5 text-sm focus-within:outline-2 focus-within:outline-tawny hover:bg-bark-2"
    >
      <Upload size={14} aria-hidden /> {words}
      <input
        id={id}
        type="file"
        accept=".json,application/json"
        className="sr-only"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = ''; // the same file can be opened again
          if (file) open.mutate(file);
        }}
      />
    </label>
  );
}
