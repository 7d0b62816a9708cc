/** What of the frame is loaded only when it is first opened. */
import { lazy } from 'react';

const loadPalette = () => import('./palette').then((file) => ({ default: file.Palette }));
const loadAccount = () => import('./account').then((file) => ({ default: file.Account }));
const loadShowSettings = () => import('./show-settings').then((file) => ({ default: file.ShowSettings }));

export const Palette = lazy(loadPalette);
export const Account = lazy(loadAccount);
export const ShowSettings = lazy(loadShowSettings);

/** Loads all of it, so that it opens at once. */
export const loadLater = (): Promise<unknown> =>
  Promise.all([loadPalette(), loadAccount(), loadShowSettings()]);
