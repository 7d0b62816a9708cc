/** An open line: its form, its state, and ways to try it. */
import { Play } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { count } from '@tawny-signal/core/plural';
import type { LineState } from '@tawny-signal/core/live/line-state';
import { sendAs, SENDS, type Send, type SendKind } from '@tawny-signal/core/sends';
import { noteName } from '@tawny-signal/core/midi/words';
import { FIVE_PIN_BYTES, isSentOn, type Line } from '@tawny-signal/core/show/line';
import { useHere } from '../people/here';
import { useLive, useLiveValue } from '../live/live';
import { SendFields } from '../mappings/send-fields';
import { RemoveButton } from '../show/removing';
import { useChangeRow, useShow } from '../show/show';
import { clockWords } from '../traffic/words';
import { Ago } from '../ui/ago';
import { Choice } from '../ui/choice';
import { HoldButton } from '../ui/hold-button';
import { NotOfTheShow } from '../ui/read-only';
import { Switch } from '../ui/switch';
import { Countdown } from './countdown';
import { protocolOf } from './kinds';
import { SessionSeen } from '../network/session-seen';
import { LineFields } from './line-fields';
import { UniverseLevels } from './universe-levels';
import type { EyeState } from '../ui/eyes';
import type { LineView } from './line-view';

export function LineDetail({ line, view }: { line: Line; view: LineView }) {
  const change = useChangeRow('lines');
  const go = useNavigate();
  const state = useLiveValue('lines', (store) => store.lineState(line.id), 250);
  return (
    <div className="grid gap-x-8 gap-y-3 px-3 pt-1 pb-3 lg:grid-cols-[minmax(0,420px)_minmax(0,1fr)] lg:pr-4 lg:pl-14">
      <LineFields line={line} />
      <div>
        <Facts line={line} view={view} />
        {line.kind === 'midi-network' && state?.network && <SessionSeen line={line} seen={state.network} />}
        {protocolOf(line) === 'dmx' && <UniverseLevels line={line} sends={view.eyes.sides.out !== 'none'} />}
        <NotOfTheShow needs="operator">{!onlyHears(line) && <TryLine line={line} />}</NotOfTheShow>
        <div className="flex items-center gap-4 pt-3">
          <Switch
            label="Muted"
            on={line.muted}
            change={(muted) => change.mutate({ id: line.id, change: { muted } })}
          />
          <RemoveButton table="lines" row={line} after={() => go('/lines')}>
            Remove line
          </RemoveButton>
        </div>
      </div>
    </div>
  );
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-ink-2">{name}</dt>
      <dd>{children}</dd>
    </>
  );
}

function Facts({ line, view }: { line: Line; view: LineView }) {
  const totals = useLiveValue('lines', (store) => store.totals(line.id), 250);
  const rate = useLiveValue('lines', (store) => store.rate(line.id), 250);
  const state = useLiveValue('lines', (store) => store.lineState(line.id), 250);
  return (
    <dl className="grid grid-cols-[110px_1fr] gap-y-1 pt-1.5 text-sm">
      <Fact name="State">
        <span className={view.trouble ? 'text-brick' : 'text-moss'}>{view.trouble || 'OK'}</span>
        {state?.nextTryAt !== undefined && <Countdown to={state.nextTryAt} />}
      </Fact>
      {state?.carrier !== undefined && (
        <Fact name="Plugged in">
          <PluggedInAt carrier={state.carrier} />
        </Fact>
      )}
      <Fact name="In">
        <SideWords side={view.eyes.sides.in} />
        {view.eyes.sides.in !== 'none' && (
          <span className="font-mono">
            {count(totals?.inCount ?? 0, 'message')}, {count(totals?.inBytes ?? 0, 'byte')} · {rate.in}/s,{' '}
            {rate.inBytes} bytes/s
          </span>
        )}
      </Fact>
      <Fact name="Out">
        <SideWords side={view.eyes.sides.out} />
        {view.eyes.sides.out !== 'none' && (
          <span className="font-mono">
            {count(totals?.outCount ?? 0, 'message')}, {count(totals?.outBytes ?? 0, 'byte')} · {rate.out}/s,{' '}
            {rate.outBytes} bytes/s
          </span>
        )}
      </Fact>
      {'fivePin' in line && line.fivePin && (
        <Fact name="5-pin cable">
          <Budget bytes={rate.outBytes} />
        </Fact>
      )}
      <Fact name="Not understood">
        <span className="font-mono">{totals?.badCount ?? 0}</span>
        {state?.lastBad && <LastBad bad={state.lastBad} />}
      </Fact>
      {state?.sources && (
        <Fact name="Sources">
          <Sources sources={state.sources} />
        </Fact>
      )}
      {protocolOf(line) === 'midi' && <Held line={line} />}
    </dl>
  );
}

const SIDES: Record<EyeState, { words: string; colour: string }> = {
  none: { words: 'Not used', colour: 'text-ink-2' },
  open: { words: 'OK', colour: 'text-moss' },
  unproven: { words: 'Nothing has answered yet', colour: 'text-straw' },
  waiting: { words: 'Waiting', colour: 'text-brick' },
  trouble: { words: 'Not working', colour: 'text-brick' },
  unknown: { words: 'Unknown', colour: 'text-ink-2' },
};

function SideWords({ side }: { side: EyeState }) {
  return (
    <span
      className={`block ${SIDES[side].colour}`}
      title={
        side === 'unproven'
          ? 'The target can’t be asked whether it hears. Try something, and look there.'
          : undefined
      }
    >
      {SIDES[side].words}
    </span>
  );
}

function LastBad({ bad }: { bad: NonNullable<LineState['lastBad']> }) {
  return (
    <p className="text-xs text-brick">
      {clockWords(bad.at)} {bad.reason}{' '}
      <span className="font-mono text-ink-2">
        {bad.bytes.map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ')}
      </span>
    </p>
  );
}

function Sources({ sources }: { sources: NonNullable<LineState['sources']> }) {
  if (sources.length === 0) return <span className="text-ink-2">No source on this universe now.</span>;
  return (
    <ul aria-label="Sources of this universe">
      {sources.map(({ name, address, priority, heard }) => (
        <li key={`${name} ${address} ${priority}`} className={heard ? '' : 'text-ink-3'}>
          {name} {name === address ? '' : `at ${address}, `}priority {priority}
          {!heard && ' · ignored: another has a higher priority'}
        </li>
      ))}
    </ul>
  );
}

/** Shows the load of a 5-pin cable. */
function Budget({ bytes }: { bytes: number }) {
  const full = Math.round((bytes / FIVE_PIN_BYTES) * 100);
  const colour = full > 100 ? 'text-brick' : full > 70 ? 'text-straw' : 'text-moss';
  return (
    <span className={`font-mono ${colour}`} data-budget>
      {full} % full · {bytes} of {FIVE_PIN_BYTES} bytes/s
      {full > 100 && ' · more than the cable carries: messages will be late'}
    </span>
  );
}

function Held({ line }: { line: Line }) {
  const { middleC } = useShow().settings;
  const held = useLiveValue('held', (store) => store.held(line.id), 100);
  const all = [
    ...held.in.map((note) => ({ ...note, way: 'in' as const })),
    ...held.out.map((note) => ({ ...note, way: 'out' as const })),
  ];
  return (
    <Fact name="Notes held">
      {all.length === 0 ? (
        <span className="text-ink-2">none</span>
      ) : (
        <ul aria-label="Notes held" className="font-mono">
          {all.slice(0, 24).map((note) => (
            <li key={`${note.way} ${note.channel} ${note.number}`}>
              <span className={note.way === 'in' ? 'text-dusk' : 'text-tawny'}>{note.way}</span> {note.number}{' '}
              ({noteName(note.number, middleC)}) ch {note.channel + 1}, force {note.velocity}, for{' '}
              <Ago at={note.since} />
            </li>
          ))}
          {all.length > 24 && <li>and {all.length - 24} more</li>}
        </ul>
      )}
    </Fact>
  );
}

const onlyHears = (line: Line): boolean =>
  !isSentOn(line) || ('everyone' in line && line.host === null && !line.everyone);

/** Sends something on the line to try it. */
function TryLine({ line }: { line: Line }) {
  const show = useShow();
  const { connection } = useLive();
  const protocol = protocolOf(line)!;
  const kinds = (Object.keys(SENDS) as SendKind[]).filter((kind) => SENDS[kind].protocol === protocol);
  const [send, setSend] = useState<Send>(() => sendAs(kinds[0]!, line.id));
  const save = (next: Send): Promise<void> => {
    setSend(next);
    return Promise.resolve();
  };
  return (
    <section aria-label="Try this line" className="mt-3 max-w-105 border-t border-dashed border-rule pt-2">
      {kinds.length > 1 && (
        <Choice
          label="Try with"
          value={send.kind}
          options={kinds.map((kind) => ({ value: kind, words: SENDS[kind].words }))}
          choose={(kind) => save(sendAs(kind, line.id, send))}
        />
      )}
      <SendFields heard={false} send={send} show={show} save={save} />
      <HoldButton
        needs="operator"
        className="mt-1 ml-24 text-tawny-2!"
        title="Sends its highest value, at once"
        press={(down) => connection.tryLine(line.id, send, down)}
      >
        <Play size={14} aria-hidden /> Try this line
      </HoldButton>
    </section>
  );
}

/** On whose machine the port of a line is. */
function PluggedInAt({ carrier }: { carrier: number }) {
  const { all, me } = useHere();
  const one = all.find(({ id }) => id === carrier);
  if (!one) return 'in a browser';
  const where = one.from === '' ? 'the server’s machine' : one.from;
  return (
    <span data-plugged-in>
      {one.id === me ? 'in this browser' : one.name === '' ? '' : `in the browser of ${one.name}`}
      <span className="text-ink-2">
        {' '}
        {one.browser}, {where}
      </span>
    </span>
  );
}
