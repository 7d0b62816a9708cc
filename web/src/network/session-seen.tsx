/** Who takes part in a session of network MIDI, how late they are, and who was refused. */
import type { ReactNode } from 'react';
import { count } from '@tawny-signal/core/plural';
import type { FoundSession, NetworkSeen } from '@tawny-signal/core/live/line-state';
import type { LineOf } from '@tawny-signal/core/show/line';
import { whomByName } from '@tawny-signal/core/show/whom';
import { useChangeRow } from '../show/show';
import { Ago } from '../ui/ago';
import { Button } from '../ui/button';
import { LatencyChart } from './latency-chart';

type Participant = NetworkSeen['participants'][number];

const msWords = (ms: number): string => `${ms < 10 ? ms.toFixed(1) : Math.round(ms)} ms`;

/** `clock 1.2 s ahead` */
function clockOffsetWords(ms: number): string {
  const size = Math.abs(ms);
  const words = size < 1000 ? msWords(size) : `${(size / 1000).toFixed(1)} s`;
  return `clock ${words} ${ms < 0 ? 'behind' : 'ahead'}`;
}

function ParticipantRow({ one }: { one: Participant }) {
  const { name, host, port, since, weCalled, latencyMs, latencies, offsetMs, lost, recovered, late } = one;
  return (
    <li className="border-t border-rule py-1.5 first:border-t-0" data-participant={name}>
      <p>
        <span className="font-semibold text-ink">{name}</span>{' '}
        <span className="text-ink-2">
          at {host}:{port}, {weCalled ? 'called by us' : 'called us'}, for <Ago at={since} />
        </span>
      </p>
      <div className="grid grid-cols-[1fr_160px] items-center gap-x-3">
        <p className="font-mono text-xs">
          {latencyMs === null ? 'latency not measured yet' : `latency ${msWords(latencyMs)}`}
          {offsetMs !== null && ` · ${clockOffsetWords(offsetMs)}`}
          <br />
          <span
            className={lost > 0 ? 'text-straw' : ''}
            title="Packets that were lost or came late; messages that were made good from what the next packet told"
          >
            {lost} lost · {recovered} made good · {late} late
          </span>
        </p>
        <LatencyChart latencies={latencies} />
      </div>
    </li>
  );
}

function Refused({ line, refused }: { line: LineOf<'midi-network'>; refused: NetworkSeen['refused'] }) {
  const change = useChangeRow('lines');
  const letIn = (host: string): void => {
    const hearFrom = line.hearFrom.includes(host) ? line.hearFrom : [...line.hearFrom, host];
    change.mutate({ id: line.id, change: { mayJoin: 'listed', hearFrom } });
  };
  return (
    <ul aria-label="Refused">
      {refused.map(({ name, host, at, count: times }) => (
        <li key={`${host} ${name}`} className="flex items-center gap-2">
          <span>
            {name || 'Somebody without a name'} at {host}, {count(times, 'time')}, <Ago at={at} /> ago
          </span>
          <Button needs="edit" className="min-h-6! px-2! text-xs" onClick={() => letIn(host)}>
            Let them in
          </Button>
        </li>
      ))}
    </ul>
  );
}

function Found({ line, found }: { line: LineOf<'midi-network'>; found: readonly FoundSession[] }) {
  const change = useChangeRow('lines');
  if (found.length === 0) return <p className="text-ink-2">No other session yet.</p>;
  return (
    <ul>
      {found.map(({ name, host, port }) => {
        const whom = whomByName(name);
        const isCalled = line.calls.some((one) => [whom, host, `${host}:${port}`].includes(one));
        return (
          <li key={name} className="flex items-center gap-2" data-found={name}>
            <span>
              <span className="text-ink">{name}</span>{' '}
              <span className="text-ink-2">
                at {host}:{port}
              </span>
            </span>
            {isCalled ? (
              <span className="text-xs text-ink-2">called by us</span>
            ) : (
              <Button
                needs="edit"
                className="min-h-6! px-2! text-xs"
                onClick={() => change.mutate({ id: line.id, change: { calls: [...line.calls, whom] } })}
              >
                Connect
              </Button>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function Part({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section aria-label={name} className="pt-2 text-sm">
      <h3 className="text-ink-2">{name}</h3>
      {children}
    </section>
  );
}

export function SessionSeen({ line, seen }: { line: LineOf<'midi-network'>; seen: NetworkSeen }) {
  const { participants, calling, refused, lateToPlay, found } = seen;
  return (
    <>
      <Part name="Connected">
        {participants.length === 0 ? (
          <p className="text-ink-2">Nobody.</p>
        ) : (
          <ul>
            {participants.map((one) => (
              <ParticipantRow key={`${one.host}:${one.port} ${one.since}`} one={one} />
            ))}
          </ul>
        )}
        {line.evenMs !== null && (
          <p className="text-xs text-ink-2">
            {count(lateToPlay, 'message')} came later than {line.evenMs} ms, and were played at once.
          </p>
        )}
      </Part>
      {found !== null && (
        <Part name="Found on the network">
          <Found line={line} found={found} />
        </Part>
      )}
      {calling.length > 0 && (
        <Part name="Being called">
          <ul>
            {calling.map(({ host, port, refused: isRefused }) => (
              <li key={`${host}:${port}`}>
                {host}:{port} {isRefused ? 'does not let us in' : 'has not answered yet'}
              </li>
            ))}
          </ul>
        </Part>
      )}
      {refused.length > 0 && (
        <Part name="Wanted to connect">
          <Refused line={line} refused={refused} />
        </Part>
      )}
    </>
  );
}
