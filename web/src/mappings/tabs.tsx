/** The sheet of mappings, and the show read for faults: two pages of one place. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/mappings', words: 'Sheet' },
  { path: '/mappings/preflight', words: 'Preflight' },
] as const;

export const Tabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Mappings and preflight" tabs={TABS} at={at} />
);
