/** What Learn does with a control: a mapping hears it. */
import { useCallback } from 'react';
import { useMatch, useNavigate } from 'react-router';
import { hearTitle, type Hear } from '@tawny-signal/core/hears';
import { controlName } from '@tawny-signal/core/layout/control-name';
import type { LearnOption } from '@tawny-signal/core/learn/options';
import { shapeFor } from '@tawny-signal/core/mapping/defaults';
import { mappingName } from '@tawny-signal/core/mapping/words';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useAddMapping, useChangeRow, useShow } from '../show/show';
import { notify } from '../ui/notice';
import type { LearnTaker } from './learn';

/** Pages under the address of the mappings that are not the sheet. */
const OTHERS: readonly (string | undefined)[] = ['layouts', 'preflight'];

/** Returns whether the sheet of mappings is shown, and which of them is open. */
export function useSheetShown(): { shown: boolean; openId: string | null } {
  const match = useMatch('/mappings/:mappingId?');
  const id = match?.params.mappingId;
  const shown = match !== null && !OTHERS.includes(id);
  return { shown, openId: shown ? (id ?? null) : null };
}

/** Returns what a learned option changes in a mapping. A different kind of message has different values, so the shape is reset. */
function changeFor(mapping: Mapping, { hear, shape }: LearnOption): Partial<Mapping> {
  const plain = shapeFor(hear.message, mapping.sends[0]?.kind);
  const base = hear.message === mapping.hear.message ? { ...mapping.shape, each: plain.each } : plain;
  return { hear, shape: { ...base, ...shape } };
}

/** Makes a mapping, or a new one, hear what is learned. @param target the mapping that was open when Learn began; null for a new one */
export function useLearnTaker(target: string | null): LearnTaker {
  const show = useShow();
  const { mappings } = show;
  const open = mappings.find(({ id }) => id === target);
  const { mutateAsync: add } = useAddMapping();
  const { mutateAsync: change } = useChangeRow('mappings');
  const go = useNavigate();
  const { shown } = useSheetShown();
  const take = useCallback(
    async (option: LearnOption, fresh: boolean) => {
      try {
        if (open && !fresh) {
          // If the mapping heard held notes, a learned press is held too.
          const held = open.hear.message === 'held' && option.hear.message === 'pressed';
          const hear: Hear = held ? ({ ...option.hear, message: 'held' } as Hear) : option.hear;
          const name =
            open.name === controlName(show.layouts, open.hear)
              ? { name: controlName(show.layouts, hear) }
              : {};
          await change({ id: open.id, change: { ...changeFor(open, { ...option, hear }), ...name } });
          if (!shown) notify(`${mappingName(open)} hears ${hearTitle(hear)} now.`);
          return open.id;
        }
        const made = await add({ hear: option.hear, name: controlName(show.layouts, option.hear) });
        if (Object.keys(option.shape).length > 0)
          await change({ id: made.id, change: changeFor(made, option) });
        // Whoever plays a controller on another page stays there.
        if (shown) void go(`/mappings/${made.id}`);
        return made.id;
      } catch {
        return null; // said aloud already
      }
    },
    [open, show, add, change, go, shown],
  );
  const retake = useCallback(
    (id: string, option: LearnOption) => {
      const mapping = mappings.find((candidate) => candidate.id === id);
      if (!mapping) return;
      const { name } = mapping;
      const follows = name !== '' && name === controlName(show.layouts, mapping.hear);
      const values = {
        ...changeFor(mapping, option),
        ...(follows && { name: controlName(show.layouts, option.hear) }),
      };
      void change({ id, change: values }).catch(() => undefined);
    },
    [mappings, show, change],
  );
  return { take, retake };
}
