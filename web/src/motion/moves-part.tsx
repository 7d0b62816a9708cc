/** How a motion is driven and begun, and how its value is shaped. */
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { hearFor } from '@tawny-signal/core/mapping/lets-go';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { MAKES } from '@tawny-signal/core/motion/makes';
import { MOTION_ACT_WORDS } from '@tawny-signal/core/sends/motion';
import { MOST_VOICES, SCALING, type Motion } from '@tawny-signal/core/show/motion';
import type { Show } from '@tawny-signal/core/show';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { readRate, writeRate } from '@tawny-signal/core/typed/rate';
import { readWhole } from '@tawny-signal/core/typed/range';
import { usesOf } from '@tawny-signal/core/uses/rows';
import { followsNumber, makeSend } from '@tawny-signal/core/sends';
import { useAddMapping, useChangeRow } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { typedTimecode } from '../time/typed-timecode';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { PercentField } from './fields';

export interface MotionPartProps {
  motion: Motion;
  show: Show;
  save: (change: Partial<Motion>) => Promise<unknown>;
}

const BY = [
  { value: 'time' as const, words: 'By itself, in time' },
  { value: 'steps' as const, words: 'Only when it is stepped' },
];
const BEGINS = [
  { value: 'always' as const, words: 'By itself' },
  { value: 'asked' as const, words: 'When something starts it' },
  { value: 'position' as const, words: 'By the position' },
];
const SCALES_WORDS = { force: 'Force scales', number: 'Number scales', channel: 'Channel scales' };
const SCALED = [
  { value: 'nothing' as const, words: 'Nothing' },
  { value: 'amount' as const, words: 'The amount' },
  { value: 'speed' as const, words: 'The speed' },
  { value: 'offset' as const, words: 'The offset' },
];
const ALWAYS = 'always';

export function DriveFields({ motion, show, save }: MotionPartProps) {
  const { drive, makes } = motion;
  const { cycles, cycle } = MAKES[makes.kind];
  const change = (values: Partial<Motion['drive']>): Promise<unknown> =>
    save({ drive: { ...drive, ...values } });
  if (!cycles) return null;
  return (
    <>
      {cycle === 'step' && (
        <Choice label="Goes on" value={drive.by} options={BY} choose={(by) => change({ by })} />
      )}
      {drive.by === 'time' && (
        <>
          <TypedField
            label={cycle === 'step' ? 'A step each' : 'Every'}
            value={writeRate(drive)}
            unit="s, Hz or beats"
            hint={drive.everyBeats === null ? undefined : 'It follows the tempo.'}
            understood={(text) => {
              const read = readRate(text, drive, show.settings.beatsToBar);
              return read.ok ? writeRate(read.value) : null;
            }}
            commit={(text) => change(orThrow(readRate(text, drive, show.settings.beatsToBar)))}
          />
          <PercentField label="Phase" value={drive.phase} commit={(phase) => change({ phase })} />
          {drive.everyBeats !== null && (
            <div className="py-1 pl-24">
              <Switch
                label="In step with the bars"
                on={drive.inStep}
                change={(inStep) => void change({ inStep }).catch(() => undefined)}
              />
            </div>
          )}
        </>
      )}
    </>
  );
}

export function BeginFields({ motion, show, save }: MotionPartProps) {
  return (
    <>
      <Choice label="Begins" value={motion.begins} options={BEGINS} choose={(begins) => save({ begins })} />
      <Choice
        label="While"
        value={motion.bankId ?? ALWAYS}
        options={[
          { value: ALWAYS, words: 'always' },
          ...show.banks.map(({ id, name }) => ({ value: id, words: `bank ${name} is on` })),
        ]}
        choose={(bankId) => save({ bankId: bankId === ALWAYS ? null : bankId })}
      />
      {motion.begins === 'position' && (
        <>
          <TypedField
            label="Runs from"
            value={motion.place.from ?? ''}
            placeholder="01:00:00:00"
            hint={motion.place.from === null ? 'It does not run before it has a place.' : undefined}
            commit={(text) => save({ place: { ...motion.place, from: typedTimecode(text, show) } })}
          />
          <TypedField
            label="Runs to"
            value={motion.place.until ?? ''}
            placeholder="to the end"
            commit={(text) => save({ place: { ...motion.place, until: typedTimecode(text, show) } })}
          />
        </>
      )}
      {motion.begins === 'asked' && (
        <>
          <TypedField
            label="Voices"
            value={String(motion.voices)}
            hint={
              motion.voices > 1
                ? 'Each note has a run of its own.'
                : motion.sends.some(followsNumber)
                  ? 'All notes share one run, which goes where the first one led. With more voices each has its own.'
                  : 'Each press triggers the same run again.'
            }
            commit={(text) =>
              save({ voices: orThrow(readWhole(text, 'A number of voices', 1, MOST_VOICES)) })
            }
          />
          {SCALING.map((part) => (
            <Choice
              key={part}
              label={SCALES_WORDS[part]}
              value={motion[part]}
              options={SCALED}
              choose={(what) => save({ [part]: what })}
            />
          ))}
        </>
      )}
    </>
  );
}

/** What starts, steps and moves it, with a way to add a control. */
export function MovedBy({ motion, show }: { motion: Motion; show: Show }) {
  const uses = usesOf(show, 'motions', motion.id);
  const add = useAddMapping();
  const change = useChangeRow('mappings');
  const go = useNavigate();
  const [busy, setBusy] = useState(false);
  const steps = motion.drive.by === 'steps' && MAKES[motion.makes.kind].cycles;
  const act = steps
    ? ('next' as const)
    : motion.begins === 'asked'
      ? ('press' as const)
      : ('amount' as const);

  async function addControl(): Promise<void> {
    setBusy(true);
    try {
      const made = await add.mutateAsync({ name: '' });
      const send = makeSend({ kind: 'motion', lineId: null, motionId: motion.id, act });
      await change.mutateAsync({
        id: made.id,
        change: { hear: hearFor(made.hear, [send]), sends: [send], shape: { ...made.shape, out: [0, 1] } },
      });
      void go(`/mappings/${made.id}`);
    } finally {
      setBusy(false);
    }
  }

  const actOf = (sends: readonly { kind: string; motionId?: string | null; act?: unknown }[]): string => {
    const send = sends.find((one) => one.kind === 'motion' && one.motionId === motion.id);
    return send ? ` · ${MOTION_ACT_WORDS[send.act as keyof typeof MOTION_ACT_WORDS]}` : ' · takes its value';
  };
  const links = [
    ...uses.mappings.map((one) => ({
      to: `/mappings/${one.id}`,
      words: mappingName(one),
      act: actOf(one.sends),
    })),
    ...uses.motions.map((one) => ({ to: `/motion/${one.id}`, words: one.name, act: actOf(one.sends) })),
    ...uses.moments.map((one) => ({ to: `/order/${one.id}`, words: `cue ${momentName(one)}`, act: '' })),
  ];
  return (
    <div role="group" aria-label="Moved by" className="grid grid-cols-[84px_minmax(0,1fr)] gap-x-3 pt-1">
      <span className="pt-1 text-sm text-ink-2">Moved by</span>
      <div>
        {links.map(({ to, words, act: what }) => (
          <p key={to} className="truncate py-1 text-sm">
            <Link to={to} className="text-dusk underline">
              {words}
            </Link>
            <span className="text-xs text-ink-2">{what}</span>
          </p>
        ))}
        <Button
          needs="edit"
          look="bare"
          className="text-sm"
          disabled={busy}
          onClick={() => void addControl().catch(() => undefined)}
        >
          + A control
        </Button>
      </div>
    </div>
  );
}
