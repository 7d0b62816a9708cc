/** One of the things that a moment does: in words, and opened to be set. */
import { ChevronDown, ChevronRight, Play, Trash2 } from 'lucide-react';
import { lineOfSend, momentSendDetail, momentSendTitle } from '@tawny-signal/core/cues/words';
import { sendAs, SENDS } from '@tawny-signal/core/mapping/sends';
import type { Show } from '@tawny-signal/core/show';
import { makeMomentSend, type MomentSend } from '@tawny-signal/core/show/moment';
import type { SendKind } from '@tawny-signal/core/show/send';
import { readLevels, writeLevels } from '@tawny-signal/core/typed/levels';
import { readMs, readNumber } from '@tawny-signal/core/typed/range';
import { SendFields } from '../mappings/send-fields';
import { kindsOf } from '../mappings/send-kinds';
import { useOrderAct } from '../show/show';
import { lineName } from '../traffic/words';
import { IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';

const CURVES = [
  { value: 'straight' as const, words: 'Straight' },
  { value: 'slow-start' as const, words: 'Slow start' },
  { value: 'fast-start' as const, words: 'Fast start' },
  { value: 'slow-ends' as const, words: 'Slow at both ends' },
];

interface MomentSendFieldsProps {
  given: MomentSend;
  show: Show;
  open: boolean;
  toggle: () => void;
  save: (next: MomentSend) => Promise<unknown>;
  remove: () => void;
}

export function MomentSendFields({ given, show, open, toggle, save, remove }: MomentSendFieldsProps) {
  const act = useOrderAct();
  const lineId = lineOfSend(given);
  const title = momentSendTitle(given, show.settings.middleC);
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
        <IconButton label={`Try ${title}`} onClick={() => act.mutate({ do: 'trySend', send: given })}>
          <Play size={14} aria-hidden />
        </IconButton>
        <IconButton label={`Remove ${title}`} onClick={remove}>
          <Trash2 size={14} aria-hidden className="text-brick" />
        </IconButton>
      </div>
      {open && (
        <div className="max-w-100 pb-2 pl-5">
          <KindChoice given={given} save={save} />
          {given.kind === 'levels' ? (
            <TypedField
              label="Levels"
              value={writeLevels(given.levels)}
              hint="Like 1-12 at 50 %, 101 at full, 40-43 off."
              commit={(text) => save({ ...given, levels: orThrow(readLevels(text)) })}
            />
          ) : (
            <>
              <SendFields
                heard={false}
                send={given.send}
                show={show}
                save={(send) => save({ ...given, send })}
              />
              {SENDS[given.send.kind].protocol !== null && (
                <TypedField
                  label="Value"
                  value={String(given.value)}
                  hint={given.send.kind === 'note' ? 'The force; 0 releases it.' : undefined}
                  commit={(text) => save({ ...given, value: orThrow(readNumber(text, 'A value')) })}
                />
              )}
            </>
          )}
          <TimeFields given={given} save={save} />
        </div>
      )}
    </li>
  );
}

type Save = (next: MomentSend) => Promise<unknown>;

/** Another kind of message for the same line. */
function KindChoice({ given, save }: { given: MomentSend; save: Save }) {
  const kind = given.kind === 'levels' ? 'levels' : given.send.kind;
  const protocol = given.kind === 'levels' ? 'dmx' : SENDS[given.send.kind].protocol;
  const kinds: SendKind[] = kindsOf(protocol);
  const options = [
    ...(protocol === 'dmx' ? [{ value: 'levels' as const, words: 'Levels of slots' }] : []),
    ...kinds.map((one) => ({ value: one, words: SENDS[one].words })),
  ];
  if (options.length < 2) return null;
  function choose(next: SendKind | 'levels'): Promise<unknown> {
    const lineId = lineOfSend(given);
    if (next === 'levels')
      return save(
        makeMomentSend({
          kind: 'levels',
          lineId,
          fadeMs: given.fadeMs,
          levels: [{ slots: [1, 1], level: 255 }],
        }),
      );
    const send = sendAs(next, lineId, given.kind === 'send' ? given.send : undefined);
    return save(makeMomentSend({ kind: 'send', send, value: SENDS[next].out[1], fadeMs: given.fadeMs }));
  }
  return <Choice label="Message" value={kind} options={options} choose={choose} />;
}

/** Kinds whose values can be on their way. */
const FADES: SendKind[] = ['osc', 'control', 'control14', 'slot'];

function TimeFields({ given, save }: { given: MomentSend; save: Save }) {
  const delayMs = given.kind === 'levels' ? given.delayMs : given.send.delayMs;
  const fades = given.kind === 'levels' || FADES.includes(given.send.kind);
  const putDelay = (ms: number): Promise<unknown> =>
    given.kind === 'levels'
      ? save({ ...given, delayMs: ms })
      : save({ ...given, send: { ...given.send, delayMs: ms } });
  return (
    <>
      {fades && (
        <TypedField
          label="Fade"
          value={given.fadeMs === 0 ? 'none' : `${given.fadeMs / 1000} s`}
          commit={(text) =>
            save({ ...given, fadeMs: /^\s*(none|)\s*$/i.test(text) ? 0 : orThrow(readMs(text, 3_600_000)) })
          }
        />
      )}
      {fades && given.fadeMs > 0 && (
        <Choice
          label="Curve"
          value={given.curve}
          options={CURVES}
          choose={(curve) => save({ ...given, curve })}
        />
      )}
      <TypedField
        label="Delay"
        value={delayMs === 0 ? 'none' : `${delayMs / 1000} s`}
        commit={(text) => putDelay(/^\s*(none|)\s*$/i.test(text) ? 0 : orThrow(readMs(text, 600_000)))}
      />
    </>
  );
}
