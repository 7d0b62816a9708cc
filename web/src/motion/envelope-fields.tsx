/** The form of an envelope. */
import { useState } from 'react';
import type { Envelope, EnvelopeStage } from '@tawny-signal/core/motion/makes/envelope';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { SpanField } from '../ui/span-field';
import { CurveFields, PercentField } from './fields';
import type { MakeProps } from './make-props';

const UNTIL = [
  { value: 'release' as const, words: 'Until its trigger is let go' },
  { value: 'end' as const, words: 'Through all stages at once' },
];
const AGAIN = [
  { value: 'goOn' as const, words: 'Goes on from where it is' },
  { value: 'restart' as const, words: 'Begins at 0' },
];

export function EnvelopeFields({ makes, save }: MakeProps<Envelope>) {
  const [more, setMore] = useState(false);
  const stage = (label: string, member: 'delay' | 'attack' | 'hold' | 'decay' | 'release') => {
    const one: EnvelopeStage = makes[member];
    return (
      <SpanField
        label={label}
        span={{ ms: one.ms, beats: one.beats }}
        unit="ms"
        highMs={600_000}
        commit={(span) => save({ ...makes, [member]: { ...one, ...span } })}
      />
    );
  };
  const curve = (label: string, member: 'attack' | 'decay' | 'release') => (
    <CurveFields
      label={label}
      curve={makes[member].curve}
      bezier={makes[member].bezier}
      change={(values) => save({ ...makes, [member]: { ...makes[member], ...values } })}
    />
  );
  return (
    <>
      {stage('Delay', 'delay')}
      {stage('Attack', 'attack')}
      {stage('Hold', 'hold')}
      {stage('Decay', 'decay')}
      <PercentField label="Sustain" value={makes.sustain} commit={(sustain) => save({ ...makes, sustain })} />
      {stage('Release', 'release')}
      <Choice
        label="Lasts"
        value={makes.until}
        options={UNTIL}
        choose={(until) => save({ ...makes, until })}
      />
      <Choice
        label="Once more"
        value={makes.again}
        options={AGAIN}
        choose={(again) => save({ ...makes, again })}
      />
      {more ? (
        <>
          {curve('It rises', 'attack')}
          {curve('It decays', 'decay')}
          {curve('It dies', 'release')}
          <PercentField
            label="Over at"
            value={makes.over}
            high={0.5}
            hint="Below this it is over: a tail never quite reaches 0."
            commit={(over) => save({ ...makes, over })}
          />
        </>
      ) : (
        <div className="pl-22">
          <Button look="bare" className="text-sm" onClick={() => setMore(true)}>
            + Curves, and when it is over
          </Button>
        </div>
      )}
    </>
  );
}
