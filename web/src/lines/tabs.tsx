/** Lines and their routes: two pages of one place. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/lines', words: 'Lines' },
  { path: '/lines/routes', words: 'Routes' },
] as const;

export const Tabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Lines and routes" tabs={TABS} at={at} />
);
