/** Learn goes on while another place is open: it lives above the pages. */
import { createContext, useContext, useState, type ReactNode } from 'react';
import { useShow } from '../show/show';
import { useLearn, type Learn } from './learn';
import { LearnBar } from './learn-bar';
import { useLearnTaker, useSheetShown } from './learn-taker';

interface LearnHere extends Learn {
  /** The mapping that hears what is touched; null for a new one. */
  target: string | null;
}

const LearnContext = createContext<LearnHere | null>(null);

export function LearnProvider({ children }: { children: ReactNode }) {
  const { openId } = useSheetShown();
  const [target, setTarget] = useState<string | null>(null);
  const learn = useLearn(useLearnTaker(target));
  const start = (): void => {
    setTarget(openId);
    learn.start();
  };
  return <LearnContext value={{ ...learn, start, target }}>{children}</LearnContext>;
}

export function useLearnHere(): LearnHere {
  const learn = useContext(LearnContext);
  if (!learn) throw new Error('useLearnHere is used outside of a LearnProvider');
  return learn;
}

/** The bar on every page but the sheet of mappings, which has its own. */
export function LearnElsewhere() {
  const learn = useLearnHere();
  const show = useShow();
  const { shown } = useSheetShown();
  if (shown || learn.phase === 'off') return null;
  return (
    <div className="px-3 pt-2 lg:px-4.5">
      <LearnBar learn={learn} show={show} target={learn.target} elsewhere />
    </div>
  );
}
