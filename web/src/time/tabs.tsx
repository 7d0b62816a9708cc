/** The position, the tempo, and timecode as files: pages of one place. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/time', words: 'Position' },
  { path: '/time/tempo', words: 'Tempo' },
  { path: '/time/ltc', words: 'LTC files' },
] as const;

export const TimeTabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Position, tempo and files" tabs={TABS} at={at} />
);
