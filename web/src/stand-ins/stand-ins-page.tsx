/** The simulated devices that ship with the program: something to play, and something to look at. */
import { Page } from '../ui/page';
import { PierPads } from './pier-pads';
import { ScorePlayer } from './score-player';
import { WaterScreen } from './water-screen';

export function StandInsPage() {
  return (
    <Page
      title="Stand-ins"
      aside={<p className="text-sm text-ink-2">Simulated devices: play the pads, watch the water.</p>}
    >
      <div className="grid min-h-0 flex-1 grid-cols-[300px_minmax(0,1fr)] gap-6 overflow-y-auto border-t border-rule pt-3 pb-4">
        <div className="space-y-5">
          <PierPads />
          <ScorePlayer />
        </div>
        <WaterScreen />
      </div>
    </Page>
  );
}
