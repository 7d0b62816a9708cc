/** Provides the live connection to components. */
import { createContext, useContext, useMemo, useRef, useSyncExternalStore, type ReactNode } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { createGuessWords } from '../people/guess-words';
import { tellOverwritten } from '../show/overwritten-words';
import { PEOPLE, takeEdit, takeLive } from '../show/show-cache';
import { connectLive, type Connection } from './connection';
import { createLiveStore, type LiveStore, type Topic } from './store';
import { createKeyboard, type Keyboard } from './keyboard';
import { createSound, type Sound, type SoundSeen } from '../sound/sound';
import { createWebMidi, type BrowserMidi, type WebMidi } from './web-midi';
import { notify } from '../ui/notice';

interface Live {
  store: LiveStore;
  connection: Connection;
  midi: WebMidi;
  keyboard: Keyboard;
  sound: Sound;
}

const LiveContext = createContext<Live | null>(null);

export function LiveProvider({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const live = useMemo((): Live => {
    const store = createLiveStore();
    const sayGuesses = createGuessWords((words) => notify(words, { look: 'warning' }));
    const connection = connectLive(store, {
      edited: (edit) => {
        takeEdit(queries, edit);
        tellOverwritten(queries, edit);
      },
      live: (state) => takeLive(queries, state),
      reconnected: () => void queries.invalidateQueries(),
      refused: (why) => notify(why),
      people: (guesses) => {
        void queries.invalidateQueries({ queryKey: PEOPLE });
        sayGuesses(guesses);
      },
      portBytes: (port, bytes) => midi.sendOut(port, bytes),
    });
    const midi = createWebMidi(() => connection);
    midi.offerKeys(false);
    const keyboard = createKeyboard(
      (on) => midi.offerKeys(on),
      (bytes) => midi.playKey(bytes),
    );
    const sound = createSound(() => midi);
    return { store, connection, midi, keyboard, sound };
  }, [queries]);
  return <LiveContext value={live}>{children}</LiveContext>;
}

export function useLive(): Live {
  const live = useContext(LiveContext);
  if (!live) throw new Error('useLive is used inside LiveProvider');
  return live;
}

/**
 * Returns a live value, and renders again when its topic changes, at most every `everyMs`.
 * @param read must return the same object as long as nothing has changed
 */
export function useLiveValue<T>(topic: Topic, read: (store: LiveStore) => T, everyMs = 0): T {
  const { store } = useLive();
  const lastAt = useRef(0);
  const subscribe = useMemo(
    () => (listener: () => void) => {
      let due: ReturnType<typeof setTimeout> | null = null;
      const stop = store.subscribe(topic, () => {
        if (everyMs === 0) return listener();
        if (due !== null) return;
        const wait = Math.max(0, lastAt.current + everyMs - performance.now());
        due = setTimeout(() => {
          due = null;
          lastAt.current = performance.now();
          listener();
        }, wait);
      });
      return () => {
        if (due !== null) clearTimeout(due);
        stop();
      };
    },
    [store, topic, everyMs],
  );
  return useSyncExternalStore(subscribe, () => read(store));
}

export function useBrowserMidi(): BrowserMidi {
  const { midi } = useLive();
  return useSyncExternalStore(
    (listener) => midi.subscribe(listener),
    () => midi.current(),
  );
}

/** Returns the sound of this browser. */
export function useSound(): SoundSeen {
  const { sound } = useLive();
  return useSyncExternalStore(
    (listener) => sound.subscribe(listener),
    () => sound.current(),
  );
}

/** Returns whether the keyboard of this tab plays. */
export function useKeyboard(): boolean {
  const { keyboard } = useLive();
  return useSyncExternalStore(
    (listener) => keyboard.subscribe(listener),
    () => keyboard.on(),
  );
}
