/** The fields that only some ways to carry time have: a component a way, and a line in the list. */
import type { ComponentType } from 'react';
import type { TimeKind, TimeOutput, TimeSource } from '@tawny-signal/core/time/ways';
import { readWhole } from '@tawny-signal/core/typed/range';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';

export interface WayProps<R extends TimeSource | TimeOutput, K extends TimeKind> {
  row: Extract<R, { kind: K }>;
  save: (change: Partial<Extract<R, { kind: K }>>) => Promise<unknown>;
}

function OscSourceFields({ row, save }: WayProps<TimeSource, 'osc'>) {
  return (
    <TypedField
      label="Address"
      value={row.address}
      hint="Its first argument counts: seconds as a number, or a text like 01:02:03:04."
      commit={(address) => save({ address })}
    />
  );
}

function OscOutputFields({ row, save }: WayProps<TimeOutput, 'osc'>) {
  return (
    <>
      <TypedField label="Address" value={row.address} commit={(address) => save({ address })} />
      <TypedField
        label="A second"
        value={String(row.perSecond)}
        hint="Seconds as a number, and the timecode as a text."
        commit={(text) => save({ perSecond: orThrow(readWhole(text, 'How often it is sent', 1, 100)) })}
      />
    </>
  );
}

function ClockOutputFields({ row, save }: WayProps<TimeOutput, 'clock'>) {
  return (
    <div className="flex flex-col gap-2 sm:pl-24">
      <Switch
        label="Start, stop and song position with the position"
        on={row.startStop}
        change={(startStop) => void save({ startStop }).catch(() => undefined)}
      />
      {row.startStop && (
        <Switch
          label="Say the place anew where clocks are late, instead of sending all of them at once"
          on={row.behind === 'place'}
          change={(on) => void save({ behind: on ? 'place' : 'catchUp' }).catch(() => undefined)}
        />
      )}
    </div>
  );
}

type Fields<R> = Partial<
  Record<TimeKind, ComponentType<{ row: R; save: (change: Partial<R>) => Promise<unknown> }>>
>;

export const SOURCE_FIELDS = { osc: OscSourceFields } as unknown as Fields<TimeSource>;
export const OUTPUT_FIELDS = {
  osc: OscOutputFields,
  clock: ClockOutputFields,
} as unknown as Fields<TimeOutput>;
