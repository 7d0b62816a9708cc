/** Imports rows from a table. First shows what would be imported, and every line that cannot be read. */
import { useState } from 'react';
import { useMutation } from '@tanstack/react-query';
import { count as rows } from '@tawny-signal/core/plural';
import { call } from '../show/api';
import { useUndo } from '../show/show';
import { Button } from '../ui/button';
import { FileButton } from '../ui/file-button';
import { notify } from '../ui/notice';
import { Reading, Running, useReading } from './reading';

interface Looked {
  added: number;
  /** The number of existing rows that are changed. */
  changed?: number;
  bad: { line: number; reason: string }[];
}

interface TableImportProps {
  /** The path of the call that imports the table. */
  path: string;
  /** The noun for a row. */
  noun: string;
  children: string;
}

export function TableImport({ path, noun, children }: TableImportProps) {
  const undo = useUndo();
  const [file, setFile] = useState<File | null>(null);
  const look = useReading<Looked>(`${path}?look=true`);
  const words = ({ added, changed = 0 }: Looked): string =>
    changed > 0 ? `${rows(added, noun)} to add, ${changed} to change` : `${rows(added, noun)} to add`;
  const take = useMutation({
    mutationFn: (table: File) => call<Looked>('POST', path, table),
    onSuccess: ({ added, changed = 0 }) => {
      notify(
        `${changed > 0 ? 'Imported' : 'Added'} ${rows(added + changed, noun)} from ${file?.name ?? 'a table'}.`,
        { act: { words: 'Undo', run: () => undo.mutate('undo') } },
      );
      setFile(null);
      look.reset();
    },
    onError: (error) => notify(error.message, { look: 'fault' }),
    networkMode: 'always',
  });
  const { data } = look;
  const all = data ? data.added + (data.changed ?? 0) : 0;
  return (
    <>
      <FileButton
        needs="edit"
        words={children}
        accept=".csv,text/csv"
        take={(chosen) => {
          setFile(chosen);
          look.mutate(chosen);
        }}
      />
      <Reading of={look} />
      {take.isPending && file && <Running name={file.name} />}
      {data && file && (
        <div role="status" className="mt-2 w-full border-l-3 border-tawny bg-bark px-3 py-2">
          <p>
            <b>{file.name}</b>: {words(data)}
            {data.bad.length > 0 && (
              <span className="text-straw">, {rows(data.bad.length, 'row')} skipped</span>
            )}
            .
          </p>
          {data.bad.length > 0 && (
            <ol aria-label="Skipped rows" className="max-h-40 overflow-y-auto py-1 font-mono text-xs">
              {data.bad.map(({ line, reason }) => (
                <li key={line} className="py-0.5">
                  <span className="text-straw">row {line}:</span> {reason}
                </li>
              ))}
            </ol>
          )}
          <div className="flex gap-2 pt-1">
            <Button
              needs="edit"
              look="main"
              disabled={all === 0 || take.isPending}
              onClick={() => take.mutate(file)}
            >
              {data.changed ? `Import ${all}` : `Add ${all}`}
            </Button>
            <Button look="bare" onClick={() => setFile(null)}>
              Cancel
            </Button>
          </div>
        </div>
      )}
    </>
  );
}
