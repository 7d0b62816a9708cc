/** Watches a control of a line from now on. */
import { useEffect, useMemo, useState } from 'react';
import { controlOf, highOfControl, writeControl, type Control } from '@tawny-signal/core/control/control';
import { createControlWatch, type ControlWatch, type Seen } from '@tawny-signal/core/control/watch';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import { signalsIn } from './words';
import { serverNow } from '../live/server-clock';

const LOOK_MS = 200;

export function useControlWatch(lineId: string, control: Control): { watch: ControlWatch; seen: Seen } {
  const { store } = useLive();
  const show = useShow();
  const wanted = writeControl(control);
  const watch = useMemo(
    () => createControlWatch(highOfControl(control)),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a control is what it is written as
    [lineId, wanted],
  );
  const now = (): number => serverNow();
  const [seen, setSeen] = useState(() => watch.look(now()));

  useEffect(
    () =>
      store.onTraffic((records) => {
        for (const record of records) {
          if (record.lineId !== lineId || record.direction !== 'in') continue;
          for (const signal of signalsIn(record, show)) {
            const found = controlOf(signal);
            if (found && writeControl(found.control) === wanted) watch.add(found.value, record.at);
          }
        }
      }),
    [store, show, lineId, wanted, watch],
  );
  useEffect(() => {
    const pace = setInterval(() => setSeen(watch.look(now())), LOOK_MS);
    return () => clearInterval(pace);
  }, [watch]);

  return { watch, seen };
}
