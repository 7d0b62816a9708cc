/**
 * The keys of a computer's keyboard, by their place on it.
 *
 * Each row: the code (W3C UI Events KeyboardEvent code Values), the USB HID usage on page 07h (HID Usage Tables,
 * "Keyboard/Keypad Page"), the X11 keysym's name where the layout is US, and what is printed on the key there. From memory.
 */
const ROWS = [
  ['KeyA', 0x04, 'a', 'A'],
  ['KeyB', 0x05, 'b', 'B'],
  ['KeyC', 0x06, 'c', 'C'],
  ['KeyD', 0x07, 'd', 'D'],
  ['KeyE', 0x08, 'e', 'E'],
  ['KeyF', 0x09, 'f', 'F'],
  ['KeyG', 0x0a, 'g', 'G'],
  ['KeyH', 0x0b, 'h', 'H'],
  ['KeyI', 0x0c, 'i', 'I'],
  ['KeyJ', 0x0d, 'j', 'J'],
  ['KeyK', 0x0e, 'k', 'K'],
  ['KeyL', 0x0f, 'l', 'L'],
  ['KeyM', 0x10, 'm', 'M'],
  ['KeyN', 0x11, 'n', 'N'],
  ['KeyO', 0x12, 'o', 'O'],
  ['KeyP', 0x13, 'p', 'P'],
  ['KeyQ', 0x14, 'q', 'Q'],
  ['KeyR', 0x15, 'r', 'R'],
  ['KeyS', 0x16, 's', 'S'],
  ['KeyT', 0x17, 't', 'T'],
  ['KeyU', 0x18, 'u', 'U'],
  ['KeyV', 0x19, 'v', 'V'],
  ['KeyW', 0x1a, 'w', 'W'],
  ['KeyX', 0x1b, 'x', 'X'],
  ['KeyY', 0x1c, 'y', 'Y'],
  ['KeyZ', 0x1d, 'z', 'Z'],
  ['Digit1', 0x1e, '1', '1'],
  ['Digit2', 0x1f, '2', '2'],
  ['Digit3', 0x20, '3', '3'],
  ['Digit4', 0x21, '4', '4'],
  ['Digit5', 0x22, '5', '5'],
  ['Digit6', 0x23, '6', '6'],
  ['Digit7', 0x24, '7', '7'],
  ['Digit8', 0x25, '8', '8'],
  ['Digit9', 0x26, '9', '9'],
  ['Digit0', 0x27, '0', '0'],
  ['Enter', 0x28, 'Return', 'Enter'],
  ['Escape', 0x29, 'Escape', 'Escape'],
  ['Backspace', 0x2a, 'BackSpace', 'Backspace'],
  ['Tab', 0x2b, 'Tab', 'Tab'],
  ['Space', 0x2c, 'space', 'Space'],
  ['Minus', 0x2d, 'minus', '-'],
  ['Equal', 0x2e, 'equal', '='],
  ['BracketLeft', 0x2f, 'bracketleft', '['],
  ['BracketRight', 0x30, 'bracketright', ']'],
  ['Backslash', 0x31, 'backslash', '\\'],
  ['Semicolon', 0x33, 'semicolon', ';'],
  ['Quote', 0x34, 'apostrophe', "'"],
  ['Backquote', 0x35, 'grave', '`'],
  ['Comma', 0x36, 'comma', ','],
  ['Period', 0x37, 'period', '.'],
  ['Slash', 0x38, 'slash', '/'],
  ['CapsLock', 0x39, 'Caps_Lock', 'Caps Lock'],
  ['F1', 0x3a, 'F1', 'F1'],
  ['F2', 0x3b, 'F2', 'F2'],
  ['F3', 0x3c, 'F3', 'F3'],
  ['F4', 0x3d, 'F4', 'F4'],
  ['F5', 0x3e, 'F5', 'F5'],
  ['F6', 0x3f, 'F6', 'F6'],
  ['F7', 0x40, 'F7', 'F7'],
  ['F8', 0x41, 'F8', 'F8'],
  ['F9', 0x42, 'F9', 'F9'],
  ['F10', 0x43, 'F10', 'F10'],
  ['F11', 0x44, 'F11', 'F11'],
  ['F12', 0x45, 'F12', 'F12'],
  ['Insert', 0x49, 'Insert', 'Insert'],
  ['Home', 0x4a, 'Home', 'Home'],
  ['PageUp', 0x4b, 'Prior', 'Page Up'],
  ['Delete', 0x4c, 'Delete', 'Delete'],
  ['End', 0x4d, 'End', 'End'],
  ['PageDown', 0x4e, 'Next', 'Page Down'],
  ['ArrowRight', 0x4f, 'Right', '→'],
  ['ArrowLeft', 0x50, 'Left', '←'],
  ['ArrowDown', 0x51, 'Down', '↓'],
  ['ArrowUp', 0x52, 'Up', '↑'],
  ['NumLock', 0x53, 'Num_Lock', 'Num Lock'],
  ['NumpadDivide', 0x54, 'KP_Divide', 'Numpad /'],
  ['NumpadMultiply', 0x55, 'KP_Multiply', 'Numpad *'],
  ['NumpadSubtract', 0x56, 'KP_Subtract', 'Numpad -'],
  ['NumpadAdd', 0x57, 'KP_Add', 'Numpad +'],
  ['NumpadEnter', 0x58, 'KP_Enter', 'Numpad Enter'],
  ['Numpad1', 0x59, 'KP_1', 'Numpad 1'],
  ['Numpad2', 0x5a, 'KP_2', 'Numpad 2'],
  ['Numpad3', 0x5b, 'KP_3', 'Numpad 3'],
  ['Numpad4', 0x5c, 'KP_4', 'Numpad 4'],
  ['Numpad5', 0x5d, 'KP_5', 'Numpad 5'],
  ['Numpad6', 0x5e, 'KP_6', 'Numpad 6'],
  ['Numpad7', 0x5f, 'KP_7', 'Numpad 7'],
  ['Numpad8', 0x60, 'KP_8', 'Numpad 8'],
  ['Numpad9', 0x61, 'KP_9', 'Numpad 9'],
  ['Numpad0', 0x62, 'KP_0', 'Numpad 0'],
  ['NumpadDecimal', 0x63, 'KP_Decimal', 'Numpad .'],
  ['ControlLeft', 0xe0, 'Control_L', 'Left Ctrl'],
  ['ShiftLeft', 0xe1, 'Shift_L', 'Left Shift'],
  ['AltLeft', 0xe2, 'Alt_L', 'Left Alt'],
  ['MetaLeft', 0xe3, 'Super_L', 'Left Meta'],
  ['ControlRight', 0xe4, 'Control_R', 'Right Ctrl'],
  ['ShiftRight', 0xe5, 'Shift_R', 'Right Shift'],
  ['AltRight', 0xe6, 'Alt_R', 'Right Alt'],
  ['MetaRight', 0xe7, 'Super_R', 'Right Meta'],
] as const;

export type KeyCode = (typeof ROWS)[number][0];

export const KEY_CODES = ROWS.map(([code]) => code) as [KeyCode, ...KeyCode[]];

export interface KeyInfo {
  /** USB HID usage, page 07h. */
  usage: number;
  /** Name of the X11 keysym. */
  keysym: string;
  /** What is printed on the key. */
  words: string;
}

const KEYS = new Map<string, KeyInfo>(
  ROWS.map(([code, usage, keysym, words]) => [code, { usage, keysym, words }]),
);

/** @returns null for a code that is not in the table. */
export const keyInfo = (code: string): KeyInfo | null => KEYS.get(code) ?? null;

export const keyWords = (code: string): string => KEYS.get(code)?.words ?? code;

/** A key as people write it: its code, or what is printed on it, in any case. @returns null if there is none. */
export function parseKey(text: string): KeyCode | null {
  const wanted = text.trim().toLowerCase();
  for (const [code, , keysym, words] of ROWS)
    if ([code, words, keysym].some((candidate) => candidate.toLowerCase() === wanted)) return code;
  return null;
}
