/** Imports rows from a table. First shows what would be imported, and every line that cannot be read. */
import { useState } from 'react';
import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { call } from '../show/api';
import { Button } from '../ui/button';
import { FileButton } from '../ui/file-button';

interface Looked {
  added: number;
  /** The number of existing rows that are changed. */
  changed?: number;
  bad: { line: number; reason: string }[];
}

interface TableImportProps {
  /** The path of the call that imports the table. */
  path: string;
  /** The noun for a row, singular and plural. */
  noun: readonly [one: string, many: string];
  children: string;
}

export function TableImport({ path, noun, children }: TableImportProps) {
  const [file, setFile] = useState<File | null>(null);
  const look = useMutation({
    mutationFn: (table: File) => call<Looked>('POST', `${path}?look=true`, table),
    onError: (error) => toast.error(error.message),
    networkMode: 'always',
  });
  const count = (of: number): string => `${of} ${noun[of === 1 ? 0 : 1]}`;
  const words = ({ added, changed = 0 }: Looked): string =>
    changed > 0 ? `${count(added)} to add, ${changed} to change` : `${count(added)} to add`;
  const take = useMutation({
    mutationFn: (table: File) => call<Looked>('POST', path, table),
    onSuccess: ({ added, changed = 0 }) => {
      toast(`Took ${count(added + changed)} from ${file?.name ?? 'a table'}. Undo takes them back.`);
      setFile(null);
      look.reset();
    },
    onError: (error) => toast.error(error.message),
    networkMode: 'always',
  });
  const { data } = look;
  const all = data ? data.added + (data.changed ?? 0) : 0;
  return (
    <>
      <FileButton
        words={children}
        accept=".csv,text/csv"
        take={(chosen) => {
          setFile(chosen);
          look.mutate(chosen);
        }}
      />
      {data && file && (
        <div role="status" className="mt-2 w-full border-l-3 border-tawny bg-bark px-3 py-2">
          <p>
            <b>{file.name}</b>: {words(data)}
            {data.bad.length > 0 && (
              <span className="text-straw">
                , {data.bad.length} {data.bad.length === 1 ? 'line' : 'lines'} that can’t be taken
              </span>
            )}
            .
          </p>
          {data.bad.length > 0 && (
            <ol
              aria-label="Lines that can’t be taken"
              className="max-h-40 overflow-y-auto py-1 font-mono text-xs"
            >
              {data.bad.map(({ line, reason }) => (
                <li key={line} className="py-0.5">
                  <span className="text-straw">line {line}</span> {reason}
                </li>
              ))}
            </ol>
          )}
          <div className="flex gap-2 pt-1">
            <Button look="main" disabled={all === 0 || take.isPending} onClick={() => take.mutate(file)}>
              {data.changed ? `Take ${all}` : `Add ${all}`}
            </Button>
            <Button look="bare" onClick={() => setFile(null)}>
              {data.changed ? 'Take none' : 'Add none'}
            </Button>
          </div>
        </div>
      )}
    </>
  );
}
