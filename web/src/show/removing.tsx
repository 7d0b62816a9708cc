/**
 * Removes rows. A row that nothing uses goes at once. For one that others use, the button first says what they are, and offers to let them use
 * another row instead. The message afterwards takes it back.
 */
import { Trash2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import type { Show } from '@tawny-signal/core/show';
import { CARRIES } from '@tawny-signal/core/show/line';
import { TABLES, type TableName } from '@tawny-signal/core/show/tables';
import { usesOf, usesWords } from '@tawny-signal/core/uses/rows';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { notify } from '../ui/notice';
import { Pop } from '../ui/pop';
import { call } from './api';
import { useEdit, useShow, useUndo } from './show';

/** What happens to the rows that use a removed one, if they are given no other. */
const WITHOUT: Partial<Record<TableName, string>> = {
  lines: 'Otherwise they stay, without a line, until you choose one for each.',
  banks: 'Otherwise they stay, and are always on.',
  looks: 'Otherwise they stay, and send nothing there until you choose another look.',
  groups: 'Otherwise they stay, and set no level there until you choose another group.',
  motions: 'Otherwise they stay, and move nothing until you choose another motion.',
  midiFiles: 'Otherwise they stay, and play nothing until you choose another file.',
};

interface Removed {
  table: TableName;
  id: string;
  name: string;
  moveTo?: string | undefined;
}

/** Returns a function that offers Undo for an edit in a message. */
export function useSayUndo(): (words: string, label: string) => void {
  const { mutate: undo } = useUndo();
  return (words, label) =>
    notify(words, {
      act: {
        words: 'Undo',
        async run() {
          const now = await call<{ undo: string | null }>('GET', 'undo').catch(() => null);
          if (now?.undo === label) undo('undo');
          else notify('Something else was changed since then. Undo it first, with Ctrl+Z.');
        },
      },
    });
}

/** Removes a row, and says so with Undo. */
export function useRemoval() {
  const sayUndo = useSayUndo();
  return useEdit(async ({ table, id, name, moveTo }: Removed) => {
    const query = moveTo === undefined ? '' : `?moveTo=${moveTo}`;
    const { label } = await call<{ label: string }>('DELETE', `${TABLES[table].path}/${id}${query}`);
    sayUndo(`Removed ${name}.`, label);
  });
}

/** The rows that could take the place of a removed one. */
function othersOf(show: Show, table: TableName, id: string): { id: string; name: string }[] {
  const rows = show[table] as { id: string; name: string }[];
  if (table !== 'lines') return rows.filter((row) => row.id !== id);
  const line = show.lines.find((one) => one.id === id);
  return show.lines.filter((one) => one.id !== id && line && CARRIES[one.kind] === CARRIES[line.kind]);
}

interface RemoveButtonProps {
  table: TableName;
  row: { id: string; name: string };
  /** What uses the row, in words, where rows don't name it: `12 mappings are called after its controls.` */
  also?: () => string;
  /** Called once it is removed. */
  after?: () => unknown;
  /** The words on the button; an icon alone if they are left out. */
  children?: ReactNode;
}

export function RemoveButton({ table, row, also, after, children }: RemoveButtonProps) {
  const show = useShow();
  const remove = useRemoval();
  const [asking, setAsking] = useState<string | null>(null);
  const { called } = TABLES[table];
  const done = (moveTo?: string): void => {
    setAsking(null);
    remove.mutate({ table, ...row, moveTo }, { onSuccess: () => void after?.() });
  };
  function ask(): void {
    const uses = usesWords(usesOf(show, table, row.id));
    const words = uses === '' ? (also?.() ?? '') : `${row.name} is used by ${uses}.`;
    if (words === '') done();
    else setAsking(words);
  }
  const label = `Remove ${called} ${row.name}`;
  return (
    <Pop
      align="end"
      width="w-84"
      open={asking !== null}
      setOpen={(open) => (open ? ask() : setAsking(null))}
      trigger={
        children === undefined ? (
          <IconButton needs="edit" label={label}>
            <Trash2 size={15} aria-hidden className="text-brick" />
          </IconButton>
        ) : (
          <Button needs="edit" look="bare" className="text-brick!">
            <Trash2 size={15} aria-hidden /> {children}
          </Button>
        )
      }
    >
      {asking !== null && (
        <Question
          words={asking}
          without={also ? undefined : WITHOUT[table]}
          others={also ? [] : othersOf(show, table, row.id)}
          remove={done}
          cancel={() => setAsking(null)}
        />
      )}
    </Pop>
  );
}

interface QuestionProps {
  words: string;
  without: string | undefined;
  others: { id: string; name: string }[];
  remove: (moveTo?: string) => void;
  cancel: () => void;
}

function Question({ words, without, others, remove, cancel }: QuestionProps) {
  const [moveTo, setMoveTo] = useState<string | null>(null);
  const to = others.find(({ id }) => id === moveTo);
  return (
    <div role="group" aria-label="Before it is removed" data-removal>
      <p className="pb-1.5 font-semibold">{words}</p>
      {others.length > 0 && (
        <Choice
          label="Move all to"
          value={moveTo ?? 'none'}
          options={[
            { value: 'none', words: 'Nothing: leave them' },
            ...others.map(({ id, name }) => ({ value: id, words: name })),
          ]}
          choose={(id) => setMoveTo(id === 'none' ? null : id)}
          hint={to ? undefined : without}
        />
      )}
      {others.length === 0 && without && <p className="pb-1 text-xs text-ink-2">{without}</p>}
      <div className="flex flex-wrap gap-2 pt-2">
        <Button look="danger" onClick={() => remove(moveTo ?? undefined)}>
          {to ? `Move to ${to.name} and remove` : 'Remove'}
        </Button>
        <Button onClick={cancel}>Cancel</Button>
      </div>
    </div>
  );
}
