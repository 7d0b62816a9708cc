/** The page of the traffic: decoded messages, which can be filtered and frozen. */
import { count } from '@tawny-signal/core/plural';
import { ArrowUp, Pause, Play } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { useLiveValue } from '../live/live';
import { useShow } from '../show/show';
import { Button } from '../ui/button';
import { Empty, Page } from '../ui/page';
import { Switch } from '../ui/switch';
import { EVERYTHING, filterTest } from './filter';
import { FilterBar } from './filter-bar';
import { findAll } from './finder';
import { SaveButton } from './save-button';
import { Tabs } from './tabs';
import { TrafficDetail } from './traffic-detail';
import { TrafficList } from './traffic-list';
import { useFinder } from './use-finder';

export function TrafficPage() {
  const show = useShow();
  const [raw, setRaw] = useState(false);
  const [filter, setFilter] = useState(EVERYTHING);
  const [frozen, setFrozen] = useState(false);
  const [away, setAway] = useState(false);
  const [chosen, setChosen] = useState<number | null>(null);
  const page = useRef<HTMLDivElement>(null);
  const dropped = useLiveValue('traffic', (store) => store.dropped(), 500);
  const wants = useMemo(() => filterTest(filter, show), [filter, show]);
  const still = frozen || away || chosen !== null;
  const found = useFinder(wants, still);
  const { finder, view, searching } = found;
  const newest = useLiveValue('traffic', (store) => store.traffic().end, 500);
  const kept = view.end - view.first;

  function toNewest(): void {
    setChosen(null);
    setAway(false);
    page.current?.querySelector('[role="log"]')?.scrollTo({ top: 0 });
  }

  return (
    <Page
      editsShow={false}
      title="Traffic"
      aside={
        <>
          <Tabs at="Messages" />
          <p className="text-sm text-ink-2">
            {wants ? `${finder.count} of ${kept}` : `${count(kept, 'message')} kept`}
            {searching && ' · looking further back'}
            {dropped > 0 && `, ${dropped} too fast to show`}
            {frozen && <span className="text-straw"> · frozen; signals go on</span>}
          </p>
        </>
      }
      actions={
        <>
          {!frozen && (away || chosen !== null) && newest > view.end && (
            <Button onClick={toNewest}>
              <ArrowUp size={15} aria-hidden /> {newest - view.end} newer
            </Button>
          )}
          <Switch label="Raw bytes" on={raw} change={setRaw} />
          <Button aria-pressed={frozen} onClick={() => setFrozen(!frozen)}>
            {frozen ? <Play size={15} aria-hidden /> : <Pause size={15} aria-hidden />}{' '}
            {frozen ? 'Continue' : 'Freeze'}
          </Button>
          <SaveButton records={() => findAll(view, wants)} show={show} />
        </>
      }
    >
      <FilterBar
        show={show}
        filter={filter}
        change={(change) => {
          setChosen(null);
          setFilter({ ...filter, ...change });
        }}
      />
      {kept === 0 ? (
        <Empty words="Nothing has passed since this page was opened. Press a pad, start the score, or move a fader." />
      ) : (
        <div ref={page} className="flex min-h-0 flex-1 flex-col">
          <TrafficList
            found={found}
            show={show}
            raw={raw}
            still={still}
            chosen={chosen}
            choose={setChosen}
            away={setAway}
          />
          {finder.count === 0 && !searching && (
            <p className="pb-10 text-center text-ink-2">No message matches.</p>
          )}
          {chosen !== null && chosen >= view.first && (
            <TrafficDetail
              record={view.at(chosen)}
              n={chosen}
              view={view}
              show={show}
              close={() => setChosen(null)}
            />
          )}
        </div>
      )}
    </Page>
  );
}
