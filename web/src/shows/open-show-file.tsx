/** Opens the file of a show. First says what is in it and what it would replace. */
import { useState } from 'react';
import { AlertDialog } from 'radix-ui';
import { count } from '@tawny-signal/core/plural';
import { Reading, useReading } from '../files/reading';
import { call } from '../show/api';
import { useShow, useUndo } from '../show/show';
import { rowsWords, useOpening, type RowCounts } from '../show/shows';
import { Button } from '../ui/button';
import { FileButton } from '../ui/file-button';
import { notify } from '../ui/notice';

interface InFile {
  name: string;
  rows: RowCounts;
  /** How many rows differ from those of the open show. */
  differs: number;
}

export function OpenShowFile() {
  const { settings } = useShow();
  const undo = useUndo();
  const [file, setFile] = useState<File | null>(null);
  const look = useReading<InFile>('files/show?look=true');
  const open = useOpening(async ({ as, from }: { as: 'new' | 'open'; from: File }) => {
    const { name } = await call<InFile>('POST', `files/show?as=${as}`, from);
    if (as === 'new') notify(`Opened ${name}. ${settings.name} stays in the list of shows.`);
    else notify(`Replaced the show by ${name}.`, { act: { words: 'Undo', run: () => undo.mutate('undo') } });
  });
  const { data } = look;
  return (
    <>
      <FileButton
        needs="edit"
        words="Open a file"
        accept=".json,application/json"
        take={(chosen) => {
          setFile(chosen);
          look.mutate(chosen);
        }}
      />
      <Reading of={look} />
      <AlertDialog.Root
        open={file !== null && data !== undefined}
        onOpenChange={(next) => !next && setFile(null)}
      >
        <AlertDialog.Portal>
          <AlertDialog.Overlay className="fixed inset-0 z-40 bg-paper/70" />
          <AlertDialog.Content className="fixed top-1/4 left-1/2 z-50 w-[min(32rem,calc(100vw-2rem))] -translate-x-1/2 rounded border border-rule bg-raised p-4 shadow-xl">
            <AlertDialog.Title className="text-lg font-semibold">Open {data?.name}</AlertDialog.Title>
            <AlertDialog.Description className="pt-1 text-ink-2">
              {file?.name}: {data && rowsWords(data.rows)}.{' '}
              {data?.differs === 0
                ? `It is the same as the open show, ${settings.name}.`
                : `Compared to the open show, ${settings.name}, ${count(data?.differs ?? 0, 'row differs', 'rows differ')}.`}
            </AlertDialog.Description>
            <div className="grid gap-2 pt-4">
              <AlertDialog.Action asChild>
                <Button
                  look="main"
                  className="h-11"
                  disabled={open.isPending}
                  onClick={() => file && open.mutate({ as: 'new', from: file })}
                >
                  Open as another show
                </Button>
              </AlertDialog.Action>
              <AlertDialog.Action asChild>
                <Button
                  className="h-11"
                  disabled={open.isPending}
                  onClick={() => file && open.mutate({ as: 'open', from: file })}
                >
                  Replace what is in {settings.name}
                </Button>
              </AlertDialog.Action>
              <AlertDialog.Cancel asChild>
                <Button className="h-11">Cancel</Button>
              </AlertDialog.Cancel>
            </div>
          </AlertDialog.Content>
        </AlertDialog.Portal>
      </AlertDialog.Root>
    </>
  );
}
