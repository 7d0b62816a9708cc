/** What is done to motions by hand, and how they run. */
import type { MotionHandAct } from '@tawny-signal/core/motion/acts';
import type { VoiceView } from '@tawny-signal/core/motion/seen';
import { useLiveValue } from '../live/live';
import { call } from '../show/api';
import { useEdit } from '../show/show';

export const useMotionAct = () =>
  useEdit(({ id, act }: { id: string; act: MotionHandAct }) =>
    call<null>('POST', `desk/motions/${id}`, { act }),
  );

/** How many voices of a motion run. Renders again when that changes. */
export const useVoiceCount = (id: string): number =>
  useLiveValue('motions', (store) => store.motions().running[id]?.length ?? 0);

/** Its voices, some times a second. */
export const useVoices = (id: string): readonly VoiceView[] | undefined =>
  useLiveValue('motions', (store) => store.motions().running[id], 100);
