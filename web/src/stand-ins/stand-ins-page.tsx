/** The page of the stand-ins, the simulated devices that ship with the program: some to play, some to look at. */
import type { ReactNode } from 'react';
import { NavLink, useParams } from 'react-router';
import { Page } from '../ui/page';
import { BellPicture, BellReceived, bellWords } from './bell-player';
import { DeckDesk } from './deck-desk';
import { HousePicture, HouseReceived, houseWords } from './front-of-house';
import { LaserPicture, LaserReceived, laserWords } from './fog-laser';
import { RigPicture, RigReceived, rigWords } from './lantern-rig';
import { PierPads } from './pier-pads';
import { StreamPicture, StreamReceived, streamWords } from './quay-stream';
import { ScorePlayer } from './score-player';
import { useStandIn } from './standing';
import { TideClock } from './tide-clock';
import { WaterPicture, WaterReceived, waterWords } from './water-screen';

interface Watched<T> {
  name: string;
  words: string;
  Picture: (props: { small: boolean }) => ReactNode;
  about: (state: T) => string;
  Received: (props: { state: T }) => ReactNode;
}

const watched = <T,>(entry: Watched<T>): Watched<unknown> => entry as Watched<unknown>;

/** The views of the stand-ins. */
const WATCHED: Watched<unknown>[] = [
  watched({
    name: 'water-screen',
    words: 'Water screen',
    Picture: WaterPicture,
    about: waterWords,
    Received: WaterReceived,
  }),
  watched({
    name: 'lantern-rig',
    words: 'Lantern rig',
    Picture: RigPicture,
    about: rigWords,
    Received: RigReceived,
  }),
  watched({
    name: 'fog-laser',
    words: 'Fog laser',
    Picture: LaserPicture,
    about: laserWords,
    Received: LaserReceived,
  }),
  watched({
    name: 'bell-player',
    words: 'Bell player',
    Picture: BellPicture,
    about: bellWords,
    Received: BellReceived,
  }),
  watched({
    name: 'quay-stream',
    words: 'Quay stream',
    Picture: StreamPicture,
    about: streamWords,
    Received: StreamReceived,
  }),
  watched({
    name: 'front-of-house',
    words: 'Front of house',
    Picture: HousePicture,
    about: houseWords,
    Received: HouseReceived,
  }),
];

export function StandInsPage() {
  const { standIn } = useParams();
  const open = WATCHED.find(({ name }) => name === standIn) ?? WATCHED[0]!;
  return (
    <Page
      editsShow={false}
      needs="operator"
      title="Stand-ins"
      aside={
        <p className="text-sm text-ink-2">
          Simulated devices to play and to watch.{' '}
          <NavLink className="text-tawny-2 underline underline-offset-2" to="/start">
            First steps
          </NavLink>
        </p>
      }
    >
      <div className="grid min-h-0 flex-1 content-start gap-6 lg:grid-cols-[300px_minmax(0,1fr)] overflow-y-auto border-t border-rule pt-3 pb-4">
        <div className="min-w-0 space-y-4">
          <PierPads />
          <DeckDesk />
          <ScorePlayer />
          <TideClock />
        </div>
        <div className="min-w-0">
          <nav aria-label="What to watch" className="grid grid-cols-3 gap-2 pb-3 sm:grid-cols-6">
            {WATCHED.map((entry) => (
              <Tile key={entry.name} entry={entry} open={entry === open} />
            ))}
          </nav>
          <Opened key={open.name} entry={open} />
        </div>
      </div>
    </Page>
  );
}

function Tile({ entry: { name, words, Picture }, open }: { entry: Watched<unknown>; open: boolean }) {
  const running = useStandIn(name) !== null;
  return (
    <div
      className={`relative overflow-hidden rounded border ${open ? 'border-tawny' : 'border-rule hover:border-ink-3'}`}
    >
      <div className="h-18" aria-hidden>
        <Picture small />
      </div>
      {/* The link covers the picture, whose own text is no part of its name. */}
      <NavLink
        to={`/stand-ins/${name}`}
        aria-current={open ? 'page' : undefined}
        className={`block truncate px-2 py-1 text-xs after:absolute after:inset-0 ${open ? 'text-tawny-2' : running ? 'text-ink-2' : 'text-brick'}`}
      >
        {running ? words : `${words}: not running`}
      </NavLink>
    </div>
  );
}

function Opened({ entry: { name, words, Picture, about, Received } }: { entry: Watched<unknown> }) {
  const state = useStandIn(name);
  return (
    <section aria-label={words}>
      <h2 className="font-semibold">{words}</h2>
      <p className="pb-2 text-xs text-ink-2">
        {state
          ? about(state)
          : `The ${words.toLowerCase()} is not running. It restarts automatically; wait a moment.`}
      </p>
      <div className="aspect-[16/9] max-h-[38vh] w-full overflow-hidden rounded border border-rule">
        <Picture small={false} />
      </div>
      {state !== null && <Received state={state} />}
    </section>
  );
}
