/** A field for a key of the keyboard, chosen by pressing it, or by typing what is printed on it. */
import { useState } from 'react';
import { keyWords, parseKey, type KeyCode } from '@tawny-signal/core/keys/codes';
import { Button } from './button';
import { TypedField } from './typed-field';

interface KeyFieldProps {
  label: string;
  code: KeyCode;
  choose: (code: KeyCode) => Promise<unknown>;
}

export function KeyField({ label, code, choose }: KeyFieldProps) {
  const [listening, setListening] = useState(false);
  return (
    <>
      <TypedField
        label={label}
        value={keyWords(code)}
        commit={(text) => {
          const read = parseKey(text);
          if (!read) throw new Error('Write what is on the key, like G, F5, Space or Enter.');
          return choose(read);
        }}
      />
      <Button
        look="bare"
        className="ml-24"
        aria-pressed={listening}
        onClick={() => setListening(true)}
        onBlur={() => setListening(false)}
        onKeyDown={(event) => {
          if (!listening) return;
          const pressed = parseKey(event.code);
          if (!pressed) return;
          event.preventDefault();
          event.stopPropagation();
          setListening(false);
          void choose(pressed).catch(() => undefined);
        }}
      >
        {listening ? 'Press the key …' : 'Record key'}
      </Button>
    </>
  );
}
