import { useRef } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { LineKind } from '@tawny-signal/core/show/line';
import { useAddRow, useShow } from '../show/show';
import { Button } from '../ui/button';
import { Empty, Page } from '../ui/page';
import { walkRows } from '../ui/walk-rows';
import { BrowserPorts } from './browser-ports';
import { freeName } from '../show/free-name';
import { KIND_NAMES, KINDS } from './kinds';
import { LineRow } from './line-row';
import { Tabs } from './tabs';

export function LinesPage() {
  const { lines } = useShow();
  const { lineId } = useParams();
  const go = useNavigate();
  const list = useRef<HTMLOListElement>(null);
  return (
    <Page
      title="Lines"
      aside={<Tabs at="Lines" />}
      actions={
        <Button needs="edit" look="main" onClick={() => go('/lines/new')}>
          Add a line
        </Button>
      }
    >
      <div className="min-h-0 flex-1 overflow-y-auto pb-6">
        {lineId === 'new' && <NewLine />}
        {lines.length === 0 && lineId !== 'new' && (
          <Empty words="There are no lines yet. Add the first: what do signals come in on?" />
        )}
        <ol ref={list} onKeyDown={(event) => walkRows(event, list.current)} className="border-t border-rule">
          {lines.map((line, at) => (
            <LineRow key={line.id} line={line} number={at + 1} open={line.id === lineId} />
          ))}
        </ol>
        <BrowserPorts />
      </div>
    </Page>
  );
}

/** Lets a person choose the kind of a new line. It is made at once with working settings, and opened. */
function NewLine() {
  const { lines } = useShow();
  const add = useAddRow('lines');
  const go = useNavigate();
  async function make(kind: LineKind): Promise<void> {
    const line = await add.mutateAsync(KINDS[kind].start(freeName(lines, 'New line')));
    void go(`/lines/${line.id}`);
  }
  return (
    <section aria-label="New line" className="mb-4 border-l-3 border-tawny bg-bark px-4 py-3">
      <h2 className="pb-2 font-semibold">What is at the other end?</h2>
      <ul className="grid grid-cols-4 gap-3">
        {KIND_NAMES.map((kind) => (
          <li key={kind}>
            <Button
              needs="edit"
              className="h-full w-full flex-col items-start! py-2 text-left"
              onClick={() => void make(kind).catch(() => undefined)}
            >
              <b>{KINDS[kind].words}</b>
              <span className="text-sm text-ink-2">{KINDS[kind].about}</span>
            </Button>
          </li>
        ))}
      </ul>
      <Button look="bare" className="mt-2" onClick={() => go('/lines')}>
        Cancel
      </Button>
    </section>
  );
}
