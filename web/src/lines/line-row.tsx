import { Trash2 } from 'lucide-react';
import { useNavigate } from 'react-router';
import type { Line } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import { useChangeLine, useRemoveLine } from '../show/show';
import { Button } from '../ui/button';
import { Eyes } from '../ui/eyes';
import { Switch } from '../ui/switch';
import { lineKindWords } from './kinds';
import { LineFields } from './line-fields';
import { useLineView, type LineView } from './line-view';

export interface LineRowProps {
  line: Line;
  number: number;
  open: boolean;
}

export function LineRow({ line, number, open }: LineRowProps) {
  const view = useLineView(line);
  const go = useNavigate();
  const toggle = (): void => void go(open ? '/lines' : `/lines/${line.id}`);
  return (
    <li
      data-line={line.name}
      className={`border-b border-l-3 border-rule ${open ? 'border-l-tawny bg-bark' : 'border-l-transparent'}`}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !open) return;
        toggle();
        event.currentTarget.querySelector<HTMLElement>('[data-row]')?.focus();
      }}
    >
      <button
        type="button"
        data-row
        aria-expanded={open}
        onClick={toggle}
        className="grid min-h-12 w-full grid-cols-[44px_36px_200px_170px_minmax(0,1fr)] items-center text-left hover:bg-bark"
      >
        <span
          className={`self-stretch border-r border-rule pr-2.5 text-right font-mono ${open ? 'text-tawny' : 'text-ink-3'}`}
        >
          <span className="inline-flex h-full items-center">{number}</span>
        </span>
        <span className="pl-2.5">
          <Eyes state={view.eyes} inLit={view.inLit} outLit={view.outLit} />
        </span>
        <span className="truncate pl-2 font-semibold">{line.name}</span>
        <span className="truncate text-sm text-ink-2">{lineKindWords(line)}</span>
        <LineTraffic line={line} view={view} />
      </button>
      {open && <LineDetail line={line} view={view} />}
    </li>
  );
}

function LineTraffic({ line, view }: { line: Line; view: LineView }) {
  const totals = useLiveValue('lines', (store) => store.totals(line.id), 120);
  if (view.trouble)
    return <span className={`pr-3 text-sm ${line.muted ? 'text-straw' : 'text-brick'}`}>{view.trouble}</span>;
  const heard = totals?.inCount ?? 0;
  const sent = totals?.outCount ?? 0;
  const bad = totals?.badCount ?? 0;
  return (
    <span className="flex gap-5 pr-3 font-mono text-sm text-ink-2" data-totals>
      <span className="text-dusk">
        in {heard} · {view.inRate}/s
      </span>
      <span className="text-tawny">
        out {sent} · {view.outRate}/s
      </span>
      {bad > 0 && <span className="text-brick">{bad} not understood</span>}
    </span>
  );
}

function LineDetail({ line, view }: { line: Line; view: LineView }) {
  const change = useChangeLine();
  const remove = useRemoveLine();
  const go = useNavigate();
  const totals = useLiveValue('lines', (store) => store.totals(line.id), 250);
  return (
    <div className="grid grid-cols-[minmax(0,420px)_minmax(0,1fr)] gap-8 pt-1 pr-4 pb-3 pl-14">
      <LineFields line={line} />
      <div>
        <dl className="grid grid-cols-[110px_1fr] gap-y-1 pt-1.5 text-sm">
          <dt className="text-ink-2">State</dt>
          <dd className={view.trouble ? 'text-brick' : 'text-moss'}>{view.trouble || 'Open'}</dd>
          <dt className="text-ink-2">In</dt>
          <dd className="font-mono">
            {totals?.inCount ?? 0} messages, {totals?.inBytes ?? 0} bytes
          </dd>
          <dt className="text-ink-2">Out</dt>
          <dd className="font-mono">
            {totals?.outCount ?? 0} messages, {totals?.outBytes ?? 0} bytes
          </dd>
          <dt className="text-ink-2">Not understood</dt>
          <dd className="font-mono">{totals?.badCount ?? 0}</dd>
        </dl>
        <div className="flex items-center gap-4 pt-3">
          <Switch
            label="Muted"
            on={line.muted}
            change={(muted) => change.mutate({ id: line.id, change: { muted } })}
          />
          <Button
            look="bare"
            className="text-brick!"
            onClick={() => remove.mutate(line.id, { onSuccess: () => void go('/lines') })}
          >
            <Trash2 size={15} aria-hidden /> Remove line
          </Button>
        </div>
      </div>
    </div>
  );
}
