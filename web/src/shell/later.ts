/** The parts of the frame that are loaded when they are first opened. Nothing that takes keys at once may be one: what is typed meanwhile would be lost. */
import { lazy } from 'react';

const loadAccount = () => import('./account').then((file) => ({ default: file.Account }));
const loadShowSettings = () => import('./show-settings').then((file) => ({ default: file.ShowSettings }));

export const Account = lazy(loadAccount);
export const ShowSettings = lazy(loadShowSettings);

/** Loads all of it, so that it opens at once. */
export const loadLater = (): Promise<unknown> => Promise.all([loadAccount(), loadShowSettings()]);
