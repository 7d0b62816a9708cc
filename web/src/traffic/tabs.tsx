/** The pages of Traffic. */
import { PlaceTabs } from '../ui/place-tabs';

const TABS = [
  { path: '/traffic', words: 'Messages' },
  { path: '/traffic/keyboard', words: 'Keyboard' },
  { path: '/traffic/control', words: 'One control' },
] as const;

export const Tabs = ({ at }: { at: (typeof TABS)[number]['words'] }) => (
  <PlaceTabs label="Ways of looking at traffic" tabs={TABS} at={at} />
);
