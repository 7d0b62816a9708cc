/** The sheet of mappings, what controllers have on them, and the show read for faults: pages of one place. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/mappings', words: 'Sheet' },
  { path: '/mappings/layouts', words: 'Layouts' },
  { path: '/mappings/preflight', words: 'Preflight' },
] as const;

export const Tabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Mappings, layouts and preflight" tabs={TABS} at={at} />
);
