/** The page of one control: its value over time, and whether it is restless. */
import { Crosshair } from 'lucide-react';
import { useMemo, useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import {
  controlOf,
  controlWords,
  highOfControl,
  readControl,
  signalOf,
  writeControl,
  type Control,
} from '@tawny-signal/core/control/control';
import type { Restless, Seen } from '@tawny-signal/core/control/watch';
import { explain } from '@tawny-signal/core/explain';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { useLiveValue } from '../live/live';
import type { TrafficView } from '../live/traffic-log';
import { useChangeRow, useShow } from '../show/show';
import { Button } from '../ui/button';
import { Page } from '../ui/page';
import { Switch } from '../ui/switch';
import { useCanvas } from '../ui/use-canvas';
import { paintControl } from './control-painter';
import { Tabs } from './tabs';
import { useControlWatch } from './use-control-watch';
import { useBeginTouches, useTouches } from './touches';
import { lineName, signalsIn } from './words';

export function ControlPage() {
  const { lineId, control: written } = useParams();
  const show = useShow();
  const go = useNavigate();
  const control = written === undefined ? null : readControl(written);
  const [touching, setTouching] = useState(false);
  const waits = touching || !control || lineId === undefined;
  return (
    <Page
      editsShow={false}
      title="Traffic"
      aside={<Tabs at="One control" />}
      actions={
        !waits && (
          <Button onClick={() => setTouching(true)}>
            <Crosshair size={15} aria-hidden /> Choose another
          </Button>
        )
      }
    >
      {waits ? (
        <Touch
          chosen={(line, next) => {
            setTouching(false);
            void go(`/traffic/control/${line}/${writeControl(next)}`);
          }}
        />
      ) : (
        <Closely key={`${lineId} ${written}`} lineId={lineId} control={control}>
          {lineName(show, lineId)}
        </Closely>
      )}
    </Page>
  );
}

/** The number of records that are searched for controls that moved recently. */
const LOOK_BACK = 400;
const MOST_LISTED = 12;

interface Found {
  lineId: string;
  control: Control;
}

function lately(view: TrafficView, show: ReturnType<typeof useShow>): Found[] {
  const found = new Map<string, Found>();
  for (
    let n = view.end - 1;
    n >= Math.max(view.first, view.end - LOOK_BACK) && found.size < MOST_LISTED;
    n--
  ) {
    const record = view.at(n);
    if (record.direction !== 'in') continue;
    const control = signalsIn(record, show).map(controlOf).find(Boolean)?.control;
    if (control) found.set(`${record.lineId} ${writeControl(control)}`, { lineId: record.lineId, control });
  }
  return [...found.values()];
}

/** Waits until a control is touched, or chosen from those that moved recently. */
function Touch({ chosen }: { chosen: (lineId: string, control: Control) => void }) {
  const show = useShow();
  const traffic = useLiveValue('traffic', (live) => live.traffic(), 500);
  const begin = useBeginTouches();
  const [session] = useState(() => begin());
  const listed = lately(traffic, show);
  useTouches(session, (touches) => {
    const found = touches.find(({ signal }) => controlOf(signal));
    if (found) chosen(found.lineId, controlOf(found.signal)!.control);
  });
  return (
    <div className="border-t border-rule px-4 py-10 text-center">
      <p className="pb-1 text-lg font-semibold">Touch a control.</p>
      <p className="pb-5 text-ink-2">
        The next pad, fader or wheel that moves is looked at closely.
        {session.passedOver && (
          <>
            <br />
            Ignored, since it moves by itself: {session.passedOver}.
          </>
        )}
      </p>
      {listed.length > 0 && (
        <>
          <p className="pb-2 text-sm text-ink-2">Or choose one that moved recently:</p>
          <ul className="flex flex-wrap justify-center gap-2">
            {listed.map(({ lineId, control }) => (
              <li key={`${lineId} ${writeControl(control)}`}>
                <Button onClick={() => chosen(lineId, control)}>
                  {lineName(show, lineId)} · {controlWords(control, show.settings.middleC)}
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

interface CloselyProps {
  lineId: string;
  control: Control;
  /** The line's name. */
  children: ReactNode;
}

function Closely({ lineId, control, children }: CloselyProps) {
  const { middleC } = useShow().settings;
  const { watch, seen } = useControlWatch(lineId, control);
  const high = highOfControl(control);
  const [closeUp, setCloseUp] = useState(false);
  const range: [number, number] =
    high === null || closeUp
      ? [seen.least ?? 0, Math.max(seen.most ?? 1, (seen.least ?? 0) + 1e-6)]
      : [0, high];
  const canvas = useCanvas((brush) => paintControl(brush, { samples: watch.samples(), range }));
  const words = (value: number | null): string => (value === null ? '–' : String(Number(value.toFixed(4))));
  return (
    <div className="min-h-0 flex-1 overflow-y-auto border-t border-rule pt-3 pb-6">
      <div className="flex items-baseline gap-3">
        <h2 className="text-lg font-semibold">{controlWords(control, middleC)}</h2>
        <Link to={`/lines/${lineId}`} className="text-sm text-ink-2 underline underline-offset-2">
          {children}
        </Link>
        {high !== null && (
          <span className="ml-auto">
            <Switch label="Close up" on={closeUp} change={setCloseUp} />
          </span>
        )}
        <b className="min-w-16 text-right font-mono text-2xl text-dusk" data-value>
          {words(seen.last)}
        </b>
      </div>
      <div className="grid grid-cols-[56px_minmax(0,1fr)] gap-2 pt-2">
        <div className="flex h-64 flex-col justify-between text-right font-mono text-xs text-ink-2">
          <span>{words(range[1])}</span>
          <span>{words(range[0])}</span>
        </div>
        <canvas
          ref={canvas}
          role="img"
          aria-label="Its value over the last 30 seconds"
          className="h-64 w-full bg-raised"
        />
        <span />
        <div className="flex justify-between font-mono text-xs text-ink-2">
          <span>30 s ago</span>
          <span>now</span>
        </div>
      </div>
      <dl className="grid grid-cols-5 pt-4 text-sm">
        <Fact name="Lowest">{words(seen.least)}</Fact>
        <Fact name="Highest">{words(seen.most)}</Fact>
        <Fact name="Different values">{seen.distinct}</Fact>
        <Fact name="Messages a second">{seen.perSecond}</Fact>
        <Fact name="Messages while watching">{seen.count}</Fact>
      </dl>
      <Verdict seen={seen} quiet={<QuietButton lineId={lineId} control={control} seen={seen} />} />
    </div>
  );
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div>
      <dt className="text-xs text-ink-2">{name}</dt>
      <dd className="font-mono text-base">{children}</dd>
    </div>
  );
}

function Verdict({ seen, quiet }: { seen: Seen; quiet: ReactNode }) {
  if (seen.restless) return <RestlessWords restless={seen.restless} quiet={quiet} />;
  const words =
    seen.count === 0
      ? 'No input yet. Move it.'
      : seen.perSecond > 0
        ? 'Moving. Take your hand off for a few seconds to see whether it rests.'
        : 'At rest: it sends nothing while nobody touches it.';
  return (
    <p className="mt-4 border-l-3 border-rule px-3 py-1.5" role="status">
      {words}
    </p>
  );
}

function RestlessWords({ restless, quiet }: { restless: Restless; quiet: ReactNode }) {
  const { mean, least, most, changesPerSecond, deadband } = restless;
  const round = (value: number): number => Number(value.toFixed(3));
  return (
    <div className="mt-4 border-l-3 border-straw bg-bark px-3 py-2" role="status" data-restless>
      <p className="font-semibold text-straw">Restless</p>
      <p>
        It changes {Math.round(changesPerSecond)} times a second between {round(least)} and {round(most)},
        about {round(mean)}, and goes nowhere. If nobody touches it, that is the controller, not the software:
        dust or a worn track.
      </p>
      <p>
        A deadband of {round(deadband)} would quiet it: smaller changes are then ignored. {quiet}
      </p>
    </div>
  );
}

interface QuietProps {
  lineId: string;
  control: Control;
  seen: Seen;
}

/** Sets the deadband on the mappings that hear the control. */
function QuietButton({ lineId, control, seen: { restless, last } }: QuietProps) {
  const show = useShow();
  const change = useChangeRow('mappings');
  // The mappings that hear it depend on the show, not on its values.
  const written = writeControl(control);
  const hearing = useMemo(() => {
    const all = explain(show, lineId, signalOf(control, last ?? 0), show.mappings.length);
    const heard = new Set(all.flatMap(({ mappingId, missed }) => (missed.length === 0 ? [mappingId] : [])));
    return show.mappings.filter(
      ({ id, shape }) => heard.has(id) && shape.from === 'value' && shape.each === 'value',
    );
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a control is what it is written as
  }, [show, lineId, written]);
  const loud = hearing.filter(({ shape }) => shape.deadband < restless!.deadband);
  if (hearing.length === 0) return <>No mapping hears it; a route passes on everything.</>;
  if (loud.length === 0) return <>Its mappings have this deadband.</>;
  return (
    <Button
      needs="edit"
      className="mt-1"
      onClick={() => {
        for (const { id, shape } of loud)
          change.mutate({ id, change: { shape: { ...shape, deadband: restless!.deadband } } });
      }}
    >
      Set it for {loud.length === 1 ? mappingName(loud[0]!) : `the ${loud.length} mappings that hear it`}
    </Button>
  );
}
