import { useDraggable } from '@dnd-kit/core';
import { CSS } from '@dnd-kit/utilities';
import { memo, type CSSProperties } from 'react';
import { layoutControlOf } from '@tawny-signal/core/layout/layout';
import { hearDetail } from '@tawny-signal/core/hears';
import { mappingName, shapeWords, whenWords } from '@tawny-signal/core/mapping/words';
import { sendDetail, sendTitle, SENDS, type Send } from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useLineView } from '../lines/line-view';
import { useLiveValue } from '../live/live';
import { Ago } from '../ui/ago';
import { RowGrip, rowKeys } from '../ui/row-grip';
import { Curve } from './curve';
import { MappingDetail } from './mapping-detail';

export const SHEET_COLUMNS = {
  '--columns': '48px minmax(0,1.15fr) minmax(0,.72fr) minmax(0,1fr) 64px',
} as CSSProperties;

export interface MappingRowProps {
  mapping: Mapping;
  number: number;
  show: Show;
  open: boolean;
  /** True if it was just made. */
  fresh: boolean;
  toggle: (id: string) => void;
  /** Moves the row up or down by a number of rows; null if rows cannot be moved. */
  moveBy: ((id: string, step: number) => void) | null;
}

/** Rendered again only when it has changed, so that scrolling renders only the rows that come into view. */
export const MappingRow = memo(function MappingRow({
  mapping,
  number,
  show,
  open,
  fresh,
  toggle,
  moveBy,
}: MappingRowProps) {
  const drag = useDraggable({ id: mapping.id, disabled: moveBy === null });
  const bank = show.banks.find((candidate) => candidate.id === mapping.bankId);
  const move = moveBy && ((step: number) => moveBy(mapping.id, step));
  const off = !mapping.on ? 'Switched off' : bank && !bank.on ? `Bank ${bank.name} is off` : null;

  return (
    <div
      ref={drag.setNodeRef}
      data-mapping={mapping.id}
      style={{ transform: CSS.Translate.toString(drag.transform) }}
      className={`border-b border-l-3 border-rule ${open ? 'border-l-tawny bg-bark' : 'border-l-transparent bg-paper'} ${drag.isDragging ? 'relative z-10 opacity-80' : ''}`}
      onKeyDown={(event) => rowKeys(event, open ? () => toggle(mapping.id) : null, move)}
    >
      <div className="group relative">
        <button
          type="button"
          data-row
          aria-expanded={open}
          onClick={() => toggle(mapping.id)}
          style={SHEET_COLUMNS}
          className="row-grid min-h-12 w-full items-center text-left hover:bg-bark max-lg:py-1.5"
        >
          <span
            className={`self-stretch border-r border-rule pr-2.5 text-right font-mono ${open ? 'text-tawny' : 'text-ink-3'}`}
          >
            <span className="inline-flex h-full items-center">{number}</span>
          </span>
          <HearCell mapping={mapping} show={show} off={off} fresh={fresh} />
          <span
            className={`flex min-w-0 items-center gap-3 pr-3 text-xs text-ink-2 max-lg:pl-3 ${off ? 'opacity-55' : ''}`}
          >
            <Curve shape={mapping.shape} width={76} height={22} />
            <span className="truncate">{shapeWords(mapping.shape)}</span>
          </span>
          <SendCell mapping={mapping} show={show} off={off !== null} />
          <Last id={mapping.id} />
        </button>
        {move && <RowGrip listeners={drag.listeners} />}
      </div>
      {open && <MappingDetail mapping={mapping} show={show} move={move} />}
    </div>
  );
});

interface HearCellProps {
  mapping: Mapping;
  show: Show;
  off: string | null;
  fresh: boolean;
}

function HearCell({ mapping, show, off, fresh }: HearCellProps) {
  const line = show.lines.find((candidate) => candidate.id === mapping.hear.lineId);
  const control = layoutControlOf(show.layouts, mapping.hear);
  return (
    <span className="min-w-0 pr-3 pl-3">
      <span className={`block truncate font-semibold ${off ? 'text-ink-2' : ''}`}>
        {mappingName(mapping)}
        {fresh && <span className="ml-2 rounded bg-bark-2 px-1.5 text-xs font-normal text-moss">new</span>}
      </span>
      <span className="block truncate text-xs text-ink-2">
        {off && <span className="text-straw">{off} · </span>}
        {line ? line.name : <span className="text-brick">No line: choose one</span>} ·{' '}
        {control && `${control.name} · `}
        {[hearDetail(mapping.hear, show.settings.middleC), whenWords(mapping.when, show.settings.middleC)]
          .filter(Boolean)
          .join(' · ')}
      </span>
    </span>
  );
}

function SendCell({ mapping, show, off }: { mapping: Mapping; show: Show; off: boolean }) {
  const [send, ...more] = mapping.sends;
  const { middleC } = show.settings;
  if (!send)
    return (
      <span className="min-w-0 pr-3 text-sm text-straw max-lg:pl-3">
        Sends nothing yet: choose what and where to.
      </span>
    );
  const line = show.lines.find((candidate) => candidate.id === send.lineId);
  return (
    <span className="min-w-0 pr-3 max-lg:pl-3">
      <span className={`block truncate font-semibold ${off ? 'text-ink-2' : ''}`}>
        {sendTitle(send, middleC)}
        {more.length > 0 && (
          <span
            className="font-normal text-ink-2"
            title={more.map((one) => sendTitle(one, middleC)).join(', ')}
          >
            {' '}
            and {more.length} more
          </span>
        )}
      </span>
      <span className="block truncate text-xs text-ink-2">
        {SENDS[send.kind].protocol === null ? (
          ownDetail(send, show)
        ) : line ? (
          <SendLine line={line} args={sendDetail(send)} />
        ) : (
          <span className="text-brick">No line: choose where it goes</span>
        )}
      </span>
    </span>
  );
}

/** The label for sends that act on the show itself. */
function ownDetail(send: Send, show: Show): string {
  if (send.kind === 'motion')
    return `This show · ${show.motions.find(({ id }) => id === send.motionId)?.name ?? 'choose a motion'}`;
  if (send.kind !== 'bank') return 'This show';
  return `This show · ${show.banks.find((bank) => bank.id === send.bankId)?.name ?? 'choose a bank'}`;
}

function SendLine({ line, args }: { line: Show['lines'][number]; args: string }) {
  const view = useLineView(line);
  if (view.trouble)
    return (
      <span className={line.muted ? 'text-straw' : 'text-brick'}>
        {line.name} is {view.shortTrouble}
      </span>
    );
  return (
    <>
      {line.name} · {args}
    </>
  );
}

function Last({ id }: { id: string }) {
  const fired = useLiveValue('mappings', (store) => store.fired(id), 100);
  return (
    <span className="pr-3 text-right font-mono text-xs text-ink-2 max-lg:absolute max-lg:top-2 max-lg:right-0">
      {fired ? <Ago at={fired.at} /> : '–'}
    </span>
  );
}
