/** The pages of Mappings: the sheet, layouts, and preflight. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/mappings', words: 'Sheet' },
  { path: '/mappings/layouts', words: 'Layouts' },
  { path: '/mappings/preflight', words: 'Preflight' },
] as const;

export const Tabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Mappings, layouts and preflight" tabs={TABS} at={at} />
);
