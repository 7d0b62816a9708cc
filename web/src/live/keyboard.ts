/** The keyboard of this tab as a port that plays, while it is switched on. */
import { keyInfo } from '@tawny-signal/core/keys/codes';
import { encodeKey } from '@tawny-signal/core/keys/key';

export interface Keyboard {
  on(): boolean;
  set(on: boolean): void;
  subscribe(listener: () => void): () => void;
}

const isWriting = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || target.matches('input, textarea, select'));

/** @param changed called when it is switched. @param send sends the bytes of a key (core/keys/key) */
export function createKeyboard(changed: (on: boolean) => void, send: (bytes: Uint8Array) => void): Keyboard {
  const listeners = new Set<() => void>();
  const down = new Set<string>();
  let on = false;

  function say(code: string, isDown: boolean): void {
    if (isDown) down.add(code);
    else down.delete(code);
    send(encodeKey({ kind: 'key', code, down: isDown }));
  }
  function letGo(): void {
    for (const code of [...down]) say(code, false);
  }
  function onDown(event: KeyboardEvent): void {
    if (event.ctrlKey || event.altKey || event.metaKey || isWriting(event.target)) return;
    if (!keyInfo(event.code)) return;
    event.preventDefault();
    event.stopPropagation();
    if (!event.repeat) say(event.code, true);
  }
  function onUp(event: KeyboardEvent): void {
    if (!down.has(event.code)) return;
    event.preventDefault();
    event.stopPropagation();
    say(event.code, false);
  }

  return {
    on: () => on,
    set(next) {
      if (next === on) return;
      on = next;
      const listen = next ? window.addEventListener : window.removeEventListener;
      if (!next) letGo();
      listen.call(window, 'keydown', onDown as EventListener, true);
      listen.call(window, 'keyup', onUp as EventListener, true);
      // The browser does not report a key that comes up while another window is in front.
      listen.call(window, 'blur', letGo);
      changed(next);
      for (const listener of listeners) listener();
    },
    subscribe(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  };
}
