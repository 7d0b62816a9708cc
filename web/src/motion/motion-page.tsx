/** Motions: values that move by themselves. */
import { Plus } from 'lucide-react';
import { useState, type CSSProperties } from 'react';
import { useNavigate, useParams } from 'react-router';
import { MAKES, MAKE_KINDS, startMake, type MakeKind } from '@tawny-signal/core/motion/makes';
import { MOST_VOICES, type Motion } from '@tawny-signal/core/show/motion';
import { useLiveValue } from '../live/live';
import { freeName } from '../show/free-name';
import { useAddRow, useShow } from '../show/show';
import { Button } from '../ui/button';
import { FindField } from '../ui/find-field';
import { Empty, Page } from '../ui/page';
import { Select } from '../ui/select';
import { walkRows } from '../ui/walk-rows';
import { HistoryContext, useMotionHistory } from './history';
import { MOTION_COLUMNS, MotionRow } from './motion-row';

/** How a new motion of each kind begins: what waits for a press has a voice for each note. */
function newMotion(kind: MakeKind): Partial<Motion> {
  const makes = startMake(kind);
  const { waits } = MAKES[kind];
  return { makes, begins: waits ? 'asked' : 'always', voices: kind === 'envelope' ? MOST_VOICES / 4 : 1 };
}

export function MotionPage() {
  const show = useShow();
  const { motionId } = useParams();
  const go = useNavigate();
  const history = useMotionHistory();
  const [find, setFind] = useState('');
  const { mutate: add } = useAddRow('motions');
  const running = useLiveValue('motions', (store) => Object.keys(store.motions().running).length);
  const text = find.trim().toLowerCase();
  const shown = show.motions.filter(({ name }) => name.toLowerCase().includes(text));
  const toggle = (id: string): void => void go(id === motionId ? '/motion' : `/motion/${id}`);
  const make = (kind: MakeKind): void =>
    add(
      { name: freeName(show.motions, MAKES[kind].words), ...newMotion(kind) },
      { onSuccess: (made) => void go(`/motion/${made.id}`) },
    );
  return (
    <Page
      title="Motion"
      aside={
        show.motions.length > 0 && (
          <span className="text-xs text-ink-2">
            {running} of {show.motions.length} running
          </span>
        )
      }
      actions={
        <>
          {show.motions.length > 0 && <FindField label="Find a motion" text={find} find={setFind} />}
          <AddMotion make={make} />
        </>
      }
    >
      <HistoryContext value={history}>
        {show.motions.length === 0 ? (
          <Empty words="There are no motions yet. A motion makes values by itself: a slow wave on a level, an envelope for each note, a random hue.">
            <Button needs="edit" look="main" onClick={() => make('wave')}>
              Add a wave
            </Button>
          </Empty>
        ) : (
          <>
            <div
              style={{ '--columns': `44px ${MOTION_COLUMNS}` } as CSSProperties}
              className="row-grid border-y border-rule py-1 text-xs text-ink-2 max-lg:hidden"
              aria-hidden
            >
              <span />
              <span className="pl-3">motion</span>
              <span>driven by</span>
              <span>now</span>
              <span>sends</span>
              <span />
            </div>
            <ol
              className="min-h-0 flex-1 overflow-y-auto"
              onKeyDown={(event) => walkRows(event, event.currentTarget)}
            >
              {shown.map((motion) => (
                <MotionRow
                  key={motion.id}
                  motion={motion}
                  number={show.motions.indexOf(motion) + 1}
                  show={show}
                  open={motion.id === motionId}
                  toggle={toggle}
                />
              ))}
            </ol>
            {shown.length === 0 && (
              <p className="px-4 py-6 text-ink-2">No motion has “{find}” in its name. Esc shows all again.</p>
            )}
          </>
        )}
      </HistoryContext>
    </Page>
  );
}

/** The first choice of a new motion is what it makes. */
function AddMotion({ make }: { make: (kind: MakeKind) => void }) {
  const [kind, setKind] = useState<MakeKind>('wave');
  return (
    <span className="flex items-center gap-1.5">
      <span className="w-28">
        <Select
          label="What the new motion makes"
          value={kind}
          options={MAKE_KINDS.map((one) => ({ value: one, words: MAKES[one].words }))}
          choose={setKind}
        />
      </span>
      <Button needs="edit" look="main" onClick={() => make(kind)}>
        <Plus size={15} aria-hidden /> Add a motion
      </Button>
    </span>
  );
}
