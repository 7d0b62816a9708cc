/** Mappings from a table: looked at first, with every line that can't be taken, then added. */
import { Upload } from 'lucide-react';
import { useId, useState } from 'react';
import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { call } from '../show/api';
import { Button } from '../ui/button';

interface Looked {
  added: number;
  bad: { line: number; reason: string }[];
}

export function MappingsTable() {
  const id = useId();
  const [file, setFile] = useState<File | null>(null);
  const look = useMutation({
    mutationFn: (table: File) => call<Looked>('POST', 'files/mappings.csv?look=true', table),
    onError: (error) => toast.error(error.message),
    networkMode: 'always',
  });
  const add = useMutation({
    mutationFn: (table: File) => call<Looked>('POST', 'files/mappings.csv', table),
    onSuccess: ({ added }) => {
      toast(`Added ${added} mappings from ${file?.name ?? 'a table'}. Undo takes them back.`);
      setFile(null);
      look.reset();
    },
    onError: (error) => toast.error(error.message),
    networkMode: 'always',
  });
  const { data } = look;
  return (
    <>
      <label
        htmlFor={id}
        className="inline-flex min-h-8 cursor-pointer items-center gap-1.5 rounded border border-rule px-2.5 text-sm focus-within:outline-2 focus-within:outline-tawny hover:bg-bark-2"
      >
        <Upload size={14} aria-hidden /> Add mappings from CSV
        <input
          id={id}
          type="file"
          accept=".csv,text/csv"
          className="sr-only"
          onChange={(event) => {
            const [chosen] = event.target.files ?? [];
            event.target.value = '';
            if (!chosen) return;
            setFile(chosen);
            look.mutate(chosen);
          }}
        />
      </label>
      {data && file && (
        <div role="status" className="mt-2 w-full border-l-3 border-tawny bg-bark px-3 py-2">
          <p>
            <b>{file.name}</b>: {data.added} {data.added === 1 ? 'mapping' : 'mappings'} to add
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
            <Button look="main" disabled={data.added === 0 || add.isPending} onClick={() => add.mutate(file)}>
              Add {data.added}
            </Button>
            <Button look="bare" onClick={() => setFile(null)}>
              Add none
            </Button>
          </div>
        </div>
      )}
    </>
  );
}
