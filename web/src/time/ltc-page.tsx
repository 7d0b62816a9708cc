/** Linear timecode as WAV files: one is made, or read and what is on it listed. */
import { Download, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { RATES, type FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import type { LtcRange, LtcReport } from '@tawny-signal/core/timecode/ltc/report';
import { readLtcRange, SAMPLE_RATES } from '@tawny-signal/core/timecode/ltc/range';
import { writePosition } from '@tawny-signal/core/timecode/timecode';
import { readNumber } from '@tawny-signal/core/typed/range';
import { useShow } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { FileButton } from '../ui/file-button';
import { orThrow } from '../ui/or-throw';
import { Page } from '../ui/page';
import { ProgressBar } from '../ui/progress-bar';
import { TypedField } from '../ui/typed-field';
import type { LtcAnswer, LtcAsk } from './ltc-read';
import { RATE_OPTIONS } from './source-fields';
import { TimeTabs } from './tabs';
import { spanWords, speedWords } from './words';

export function LtcPage() {
  return (
    <Page title="Time" aside={<TimeTabs at="LTC files" />} editsShow={false}>
      <div className="grid min-h-0 flex-1 content-start gap-x-10 gap-y-6 overflow-y-auto border-t border-rule pt-3 pb-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.4fr)]">
        <Make />
        <Read />
      </div>
    </Page>
  );
}

const HOUR_MS = 3_600_000;

function Make() {
  const { frameRate } = useShow().settings.timecode;
  const [rate, setRate] = useState<FrameRate>(frameRate);
  const [from, setFrom] = useState(() => writePosition(HOUR_MS, frameRate));
  const [to, setTo] = useState(() => writePosition(HOUR_MS + 600_000, frameRate));
  const [sampleRate, setSampleRate] = useState<string>('48000');
  const [levelDb, setLevelDb] = useState(-12);
  const range = readLtcRange(from, to, rate, Number(sampleRate));
  const query = new URLSearchParams({ from, to, rate, sampleRate, levelDb: String(levelDb) });
  const seconds = range.ok ? range.value.frames / RATES[rate].fps : 0;
  return (
    <section aria-label="Make a file">
      <h2 className="pb-1 font-semibold">Make a file</h2>
      <p className="pb-2 text-sm text-ink-2">
        Linear timecode as sound, for a recorder or a machine that only has an audio input. One channel, 24
        bits.
      </p>
      <Choice label="Frame rate" value={rate} options={RATE_OPTIONS} choose={setRate} />
      <TypedField label="From" value={from} commit={setFrom} />
      <TypedField label="To" value={to} hint="The last frame, which is included." commit={setTo} />
      <Choice
        label="Samples"
        value={sampleRate}
        options={SAMPLE_RATES.map((one) => ({ value: String(one), words: `${one / 1000} kHz` }))}
        choose={setSampleRate}
      />
      <TypedField
        label="Level"
        value={`${levelDb} dB`}
        hint="-40 to 0 dB below full scale."
        commit={(text) => {
          const level = orThrow(readNumber(text.replace(/dB\s*$/i, ''), 'A level in dB'));
          if (level < -40 || level > 0) throw new Error('A level is -40 to 0 dB.');
          setLevelDb(level);
        }}
      />
      <div className="pt-2 sm:pl-24">
        {range.ok ? (
          <a
            href={`/api/ltc/file?${query.toString()}`}
            download
            className="inline-flex min-h-8 items-center gap-1.5 rounded bg-tawny px-3 font-semibold text-on-tawny hover:bg-tawny-2"
          >
            <Download size={14} aria-hidden /> Download {spanWords(seconds * 1000)},{' '}
            {((range.value.samples * 3) / 1e6).toFixed(1)} MB
          </a>
        ) : (
          <p role="alert" className="text-sm text-brick">
            {range.reason}
          </p>
        )}
      </div>
    </section>
  );
}

type Reading =
  | { state: 'none' }
  | { state: 'reading'; name: string; part: number }
  | { state: 'refused'; name: string; reason: string }
  | { state: 'done'; file: File; answer: Extract<LtcAnswer, { t: 'done' }>; channel: number };

function Read() {
  const [reading, setReading] = useState<Reading>({ state: 'none' });
  const worker = useRef<Worker | null>(null);
  const stop = (): void => {
    worker.current?.terminate();
    worker.current = null;
  };
  useEffect(() => stop, []);

  function read(file: File, channel = 0): void {
    stop();
    setReading({ state: 'reading', name: file.name, part: 0 });
    const made = new Worker(new URL('./ltc-worker.ts', import.meta.url), { type: 'module' });
    worker.current = made;
    made.onmessage = ({ data }: MessageEvent<LtcAnswer>) => {
      if (data.t === 'progress') setReading({ state: 'reading', name: file.name, part: data.part });
      if (data.t === 'refused') setReading({ state: 'refused', name: file.name, reason: data.reason });
      if (data.t === 'done') setReading({ state: 'done', file, answer: data, channel });
      if (data.t !== 'progress') stop();
    };
    made.onerror = () =>
      setReading({
        state: 'refused',
        name: file.name,
        reason: 'The reader could not be started. Try again.',
      });
    made.postMessage({ file, channel } satisfies LtcAsk);
  }

  return (
    <section aria-label="Read a file">
      <h2 className="pb-1 font-semibold">Read a file</h2>
      <p className="pb-2 text-sm text-ink-2">
        Lists what is on a WAV file of linear timecode. The file stays in this browser.
      </p>
      <FileButton words="Choose a WAV file" accept=".wav,audio/wav" take={(file) => read(file)} />
      {reading.state === 'reading' && (
        <div className="flex items-center gap-3 pt-3">
          <ProgressBar part={reading.part} label={`Reading ${reading.name}`} />
          <Button
            onClick={() => {
              stop();
              setReading({ state: 'none' });
            }}
          >
            <X size={14} aria-hidden /> Stop reading
          </Button>
        </div>
      )}
      {reading.state === 'refused' && (
        <p role="alert" className="pt-3 text-sm text-brick">
          {reading.name}: {reading.reason}
        </p>
      )}
      {reading.state === 'done' && (
        <Found
          {...reading.answer}
          name={reading.file.name}
          channel={reading.channel}
          choose={(channel) => read(reading.file, channel)}
        />
      )}
    </section>
  );
}

interface FoundProps {
  name: string;
  report: LtcReport;
  channels: number;
  sampleRate: number;
  seconds: number;
  channel: number;
  choose: (channel: number) => void;
}

function Found({ name, report, channels, sampleRate, seconds, channel, choose }: FoundProps) {
  const { rate, ranges, more, levelDb, speed, drop } = report;
  return (
    <div className="pt-3" data-ltc-rate={rate ?? ''}>
      <p className="text-sm">
        <b>{name}</b>: {spanWords(seconds * 1000)}, {sampleRate / 1000} kHz, {channels}{' '}
        {channels === 1 ? 'channel' : 'channels'}.
      </p>
      {channels > 1 && (
        <div className="max-w-72 pt-1">
          <Choice
            label="Channel"
            value={String(channel)}
            options={Array.from({ length: channels }, (_, at) => ({
              value: String(at),
              words: String(at + 1),
            }))}
            choose={(next) => choose(Number(next))}
          />
        </div>
      )}
      {rate === null ? (
        <p className="pt-1 text-sm text-straw">
          No timecode was found{channels > 1 ? ' on this channel. Choose another one.' : '.'}
        </p>
      ) : (
        <>
          <p className="pt-1 text-sm text-ink-2">
            {RATES[rate].words} at {speedWords(speed)}, drop-frame flag {drop ? 'set' : 'not set'}, level{' '}
            {levelDb!.toFixed(1)} dB, {report.frames} frames.
          </p>
          <ol aria-label="Ranges" className="mt-2 border-t border-rule font-mono text-sm">
            {ranges.map((range, at) => (
              <Range key={at} range={range} />
            ))}
          </ol>
          {more > 0 && <p className="pt-1 text-sm text-ink-2">and {more} more</p>}
        </>
      )}
    </div>
  );
}

function Range({ range: { from, to, frames, backward, startS, after } }: { range: LtcRange }) {
  const gap = after && after.silenceS > 0.02 ? `after ${after.silenceS.toFixed(2)} s of silence` : '';
  const jump =
    after && after.jump !== 0 ? `a jump of ${after.jump > 0 ? '+' : '−'}${Math.abs(after.jump)} frames` : '';
  return (
    <li data-range={`${from} ${to}`} className="flex flex-wrap gap-x-4 border-b border-rule py-1.5">
      <span>
        {from} {backward ? '←' : '→'} {to}
      </span>
      <span className="text-ink-2">{frames} frames</span>
      <span className="text-ink-2">at {startS.toFixed(2)} s</span>
      <span className="font-sans text-straw">{[gap, jump].filter(Boolean).join(', ')}</span>
    </li>
  );
}
