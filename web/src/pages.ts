/** The pages of Tawny Signal. Each is loaded when it is first opened. To add one, add a line here, and one in shell/page-words. */
import type { ComponentType } from 'react';
import { loadLater } from './shell/later';
import type { PAGE_WORDS } from './shell/page-words';

/** The address of each page, and how to load it. */
const PAGES = {
  start: () => import('./start/start-page').then((file) => file.StartPage),
  'lines/:lineId?': () => import('./lines/lines-page').then((file) => file.LinesPage),
  'mappings/layouts/:layoutId?': () => import('./layouts/layouts-page').then((file) => file.LayoutsPage),
  'mappings/preflight': () => import('./preflight/preflight-page').then((file) => file.PreflightPage),
  'mappings/:mappingId?': () => import('./mappings/mappings-page').then((file) => file.MappingsPage),
  'motion/:motionId?': () => import('./motion/motion-page').then((file) => file.MotionPage),
  'lines/routes/:routeId?': () => import('./routes/routes-page').then((file) => file.RoutesPage),
  'order/time': () => import('./order/time-page').then((file) => file.TimePage),
  'order/looks': () => import('./order/looks-page').then((file) => file.LooksPage),
  'order/files': () => import('./order/files-page').then((file) => file.FilesPage),
  'order/:momentId?': () => import('./order/order-page').then((file) => file.OrderPage),
  'time/tempo/:rowId?': () => import('./time/tempo-page').then((file) => file.TempoPage),
  'time/ltc': () => import('./time/ltc-page').then((file) => file.LtcPage),
  'time/:rowId?': () => import('./time/position-page').then((file) => file.PositionPage),
  'shows/versions/:versionId': () => import('./shows/version-page').then((file) => file.VersionPage),
  people: () => import('./people/people-page').then((file) => file.PeoplePage),
  shows: () => import('./shows/shows-page').then((file) => file.ShowsPage),
  afar: () => import('./afar/afar-page').then((file) => file.AfarPage),
  prompt: () => import('./prompt/prompt-page').then((file) => file.PromptPage),
  'prompt/log/:performanceId?': () => import('./prompt/log-page').then((file) => file.LogPage),
  traffic: () => import('./traffic/traffic-page').then((file) => file.TrafficPage),
  'traffic/keyboard': () => import('./traffic/keyboard-page').then((file) => file.KeyboardPage),
  'traffic/control/:lineId?/:control?': () =>
    import('./traffic/control-page').then((file) => file.ControlPage),
  'stand-ins/:standIn?': () => import('./stand-ins/stand-ins-page').then((file) => file.StandInsPage),
} satisfies Record<keyof typeof PAGE_WORDS, () => Promise<ComponentType>>;

/** The time between two tries to load a page, and the number of tries. A server that restarts is back by then. */
const AGAIN_MS = 500;
const MOST_TRIES = 40;

async function untilLoaded<T>(load: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await load();
    } catch (error) {
      if (tries >= MOST_TRIES) throw error;
      await new Promise((done) => setTimeout(done, AGAIN_MS));
    }
  }
}

/** Pages without the frame of bars around them. */
const BARE: readonly string[] = ['afar'];

/** The routes for React Router, which shows the old page until the next one is loaded. */
const ROUTES = Object.entries(PAGES).map(([path, load]) => ({
  path,
  lazy: async () => ({ Component: await untilLoaded(load) }),
}));
export const PAGE_ROUTES = ROUTES.filter(({ path }) => !BARE.includes(path));
export const BARE_ROUTES = ROUTES.filter(({ path }) => BARE.includes(path));

/**
 * Loads all pages, one after another, once the first one is shown: so that a page opens at once, and opens at all where the server has
 * gone meanwhile. One that can't be loaded now is loaded when it is opened.
 */
export async function loadAllPages(): Promise<void> {
  await loadLater().catch(() => undefined);
  for (const load of Object.values(PAGES)) await load().catch(() => undefined);
}
