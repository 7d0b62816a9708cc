/** The running order and what its moments name: pages of one place. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/order', words: 'Sheet' },
  { path: '/order/time', words: 'Along time' },
  { path: '/order/looks', words: 'Looks' },
  { path: '/order/files', words: 'MIDI files' },
] as const;

export const Tabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Running order, looks and MIDI files" tabs={TABS} at={at} />
);
