import { useNavigate } from 'react-router';
import type { Line } from '@tawny-signal/core/show/line';
import { useLiveValue } from '../live/live';
import { Eyes } from '../ui/eyes';
import { OpenRow } from '../ui/open-row';
import { lineKindWords } from './kinds';
import { LineTrace } from './line-trace';
import { LineDetail } from './line-detail';
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
    <OpenRow
      number={number}
      open={open}
      toggle={toggle}
      columns="36px minmax(120px, 200px) minmax(110px, 170px) minmax(0, 1fr) minmax(80px, 180px)"
      data={{ 'data-line': line.name }}
      summary={
        <>
          <span className="pl-2.5 max-lg:absolute max-lg:right-3">
            <Eyes {...view.eyes} />
          </span>
          <span className="truncate pl-2 font-semibold">{line.name}</span>
          <span className="truncate text-sm text-ink-2 max-lg:pl-2">{lineKindWords(line)}</span>
          <LineTraffic line={line} view={view} />
          <span className="pr-3 max-lg:pl-2">
            <LineTrace lineId={line.id} />
          </span>
        </>
      }
    >
      <LineDetail line={line} view={view} />
    </OpenRow>
  );
}

function LineTraffic({ line, view }: { line: Line; view: LineView }) {
  const totals = useLiveValue('lines', (store) => store.totals(line.id), 120);
  if (view.trouble)
    return (
      <span className={`pr-3 text-sm max-lg:pl-2 ${line.muted ? 'text-straw' : 'text-brick'}`}>
        {view.trouble}
      </span>
    );
  const heard = totals?.inCount ?? 0;
  const sent = totals?.outCount ?? 0;
  const bad = totals?.badCount ?? 0;
  return (
    <span
      className="grid grid-cols-[auto_auto_1fr] gap-x-4 pr-3 max-lg:pl-2 lg:grid-cols-[minmax(0,150px)_minmax(0,150px)_1fr] font-mono text-sm text-ink-2"
      data-totals
    >
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
