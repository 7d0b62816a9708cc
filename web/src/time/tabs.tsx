/** The position and the tempo: pages of one place. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/time', words: 'Position' },
  { path: '/time/tempo', words: 'Tempo' },
] as const;

export const TimeTabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Position and tempo" tabs={TABS} at={at} />
);
