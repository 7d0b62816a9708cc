/** Parts of the frame that are loaded when they are first opened. Parts that take keys at once must not be loaded later: what is typed meanwhile would be lost. */
import { lazy } from 'react';

const loadAccount = () => import('./account').then((file) => ({ default: file.Account }));
const loadShowSettings = () => import('./show-settings').then((file) => ({ default: file.ShowSettings }));

const loadPierPads = () => import('../stand-ins/pier-pads').then((file) => ({ default: file.PierPads }));

export const Account = lazy(loadAccount);
export const PierPads = lazy(loadPierPads);
export const ShowSettings = lazy(loadShowSettings);

/** Loads all of them, so that they open at once. */
export const loadLater = (): Promise<unknown> =>
  Promise.all([loadAccount(), loadShowSettings(), loadPierPads()]);
