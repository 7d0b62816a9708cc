/** One of the things that a moment does: its words, and its form when it is open. */
import { ChevronDown, ChevronRight, Play, Trash2 } from 'lucide-react';
import { delayOf, fadeOf } from '@tawny-signal/core/cues/expand';
import { lineOfSend, momentSendDetail, momentSendTitle } from '@tawny-signal/core/cues/words';
import { SENDS } from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import type { MomentSend, MomentSendOf } from '@tawny-signal/core/show/moment';
import { readNumber } from '@tawny-signal/core/typed/range';
import { SendFields } from '../mappings/send-fields';
import { useOrderAct } from '../show/order-edits';
import { lineName } from '../traffic/words';
import { IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { SpanField } from '../ui/span-field';
import { TypedField } from '../ui/typed-field';
import { canFade, kindOf, makeKind, momentKinds, protocolOfSend, withDelay } from './moment-kinds';
import { FileFields, LevelsFields, LookFields } from './own-fields';
import { inMs, isNone } from '@tawny-signal/core/time/span';

const CURVES = [
  { value: 'straight' as const, words: 'Straight' },
  { value: 'slow-start' as const, words: 'Slow start' },
  { value: 'fast-start' as const, words: 'Fast start' },
  { value: 'slow-ends' as const, words: 'Slow at both ends' },
];

type Save = (next: MomentSend) => Promise<unknown>;

interface MomentSendFieldsProps {
  given: MomentSend;
  show: Show;
  open: boolean;
  toggle: () => void;
  save: Save;
  remove: () => void;
}

export function MomentSendFields({ given, show, open, toggle, save, remove }: MomentSendFieldsProps) {
  const act = useOrderAct();
  const lineId = lineOfSend(given);
  const title = momentSendTitle(given, show);
  return (
    <li className="border-b border-rule">
      <div className="flex items-center gap-2">
        <button
          type="button"
          aria-expanded={open}
          onClick={toggle}
          className="flex min-h-8 min-w-0 flex-1 items-center gap-2 text-left hover:bg-bark-2"
        >
          {open ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
          <span className="w-32 shrink-0 truncate text-ink-2">
            {lineId === null ? 'This show' : lineName(show, lineId)}
          </span>
          <span className="truncate font-semibold text-tawny-2">{title}</span>
          <span className="shrink-0 text-xs text-ink-3">{momentSendDetail(given)}</span>
        </button>
        <IconButton
          needs="operator"
          label={`Try ${title}`}
          onClick={() => act.mutate({ do: 'trySend', send: given })}
        >
          <Play size={14} aria-hidden />
        </IconButton>
        <IconButton needs="edit" label={`Remove ${title}`} onClick={remove}>
          <Trash2 size={14} aria-hidden className="text-brick" />
        </IconButton>
      </div>
      {open && (
        <div className="max-w-100 pb-2 pl-5">
          <KindChoice given={given} show={show} save={save} />
          <KindFields given={given} show={show} save={save} />
          <TimeFields given={given} save={save} />
        </div>
      )}
    </li>
  );
}

interface PartProps {
  given: MomentSend;
  show: Show;
  save: Save;
}

function KindFields({ given, show, save }: PartProps) {
  switch (given.kind) {
    case 'levels':
      return <LevelsFields given={given} show={show} save={save} />;
    case 'look':
      return <LookFields given={given} show={show} save={save} />;
    case 'file':
      return <FileFields given={given} show={show} save={save} />;
    case 'send':
      return (
        <>
          <SendFields heard={false} send={given.send} show={show} save={(send) => save({ ...given, send })} />
          {wantsValue(given) && (
            <TypedField
              label="Value"
              value={String(given.value)}
              hint={given.send.kind === 'note' ? 'The force; 0 releases it.' : undefined}
              commit={(text) => save({ ...given, value: orThrow(readNumber(text, 'A value')) })}
            />
          )}
        </>
      );
  }
}

/** Returns whether a send has a value to set. */
const wantsValue = ({ send }: MomentSendOf<'send'>): boolean =>
  SENDS[send.kind].protocol !== null && !(send.kind === 'showControl' && send.command !== 'set');

/** Chooses another kind of send for the same line. */
function KindChoice({ given, show, save }: PartProps) {
  const options = momentKinds(protocolOfSend(given));
  if (options.length < 2) return null;
  return (
    <Choice
      label="Message"
      value={kindOf(given)}
      options={options}
      choose={(kind) => save(makeKind(kind, lineOfSend(given), show, given))}
    />
  );
}

function TimeFields({ given, save }: { given: MomentSend; save: Save }) {
  return (
    <>
      {canFade(given) && (
        <SpanField
          label="Fade"
          span={fadeOf(given)}
          unit="s"
          highMs={3_600_000}
          none={{ words: 'none', commit: () => save({ ...given, fadeMs: 0, fadeBeats: null }) }}
          commit={({ ms, beats }) => save({ ...given, fadeMs: ms, fadeBeats: beats })}
        />
      )}
      {canFade(given) && !isNone(fadeOf(given)) && (
        <Choice
          label="Curve"
          value={given.curve}
          options={CURVES}
          choose={(curve) => save({ ...given, curve })}
        />
      )}
      <SpanField
        label="Delay"
        span={delayOf(given)}
        unit="s"
        highMs={600_000}
        none={{ words: 'none', commit: () => save(withDelay(given, inMs(0))) }}
        commit={(span) => save(withDelay(given, span))}
      />
    </>
  );
}
