/** The first page of a browser of another machine: a name, and a passphrase or the code of a QR code. */
import { useState, type FormEvent } from 'react';
import { Button } from '../ui/button';
import { TRUST } from './trust-page';
import { thisDesk } from '../show/this-desk';

const CODE = /^#code=([\w-]+)$/;

interface Problem {
  message: string;
  fields: { field: string; message: string }[];
}

async function signIn(body: object): Promise<Problem | null> {
  const response = await fetch('/api/people/sign-in', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  }).catch(() => null);
  if (response?.ok) return null;
  const said = (await response?.json().catch(() => null)) as Problem | null;
  return said ?? { message: 'The server can’t be reached. Try again in a moment.', fields: [] };
}

export function SignIn() {
  const [code, setCode] = useState(() => CODE.exec(location.hash)?.[1] ?? null);
  const [name, setName] = useState(thisDesk().name);
  const [passphrase, setPassphrase] = useState('');
  const [problem, setProblem] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);

  async function submit(event: FormEvent): Promise<void> {
    event.preventDefault();
    setBusy(true);
    const found = await signIn(code === null ? { name, passphrase } : { name, code });
    setBusy(false);
    setProblem(found);
    if (found?.fields.some(({ field }) => field === 'code')) setCode(null);
    // Everything begins anew as somebody; the code is used up.
    if (!found) location.replace(location.pathname);
  }

  const label = 'block pt-3 pb-1 text-sm text-ink-2';
  const input = 'h-12 w-full rounded border border-rule bg-paper px-3 text-lg text-ink';
  return (
    <main className="flex min-h-full items-center justify-center p-4">
      <form onSubmit={(event) => void submit(event)} className="w-full max-w-88" aria-label="Sign in">
        <img src="/owl.svg" alt="" width={48} height={38} />
        <h1 className="pt-2 text-2xl font-bold">Tawny Signal</h1>
        <p className="pb-2 text-ink-2">
          {code === null
            ? 'Sign in to see or run this show. The operator has the passphrases.'
            : 'This code lets this browser in. Say who you are.'}
        </p>
        <label htmlFor="sign-in-name" className={label}>
          Your name
        </label>
        <input
          id="sign-in-name"
          className={input}
          value={name}
          maxLength={40}
          autoComplete="username"
          required
          autoFocus
          onChange={(event) => setName(event.target.value)}
        />
        {code === null && (
          <>
            <label htmlFor="sign-in-passphrase" className={label}>
              Passphrase
            </label>
            <input
              id="sign-in-passphrase"
              className={`${input} font-mono`}
              type="password"
              value={passphrase}
              autoComplete="current-password"
              autoCapitalize="none"
              required
              onChange={(event) => setPassphrase(event.target.value)}
            />
          </>
        )}
        {problem && (
          <p role="alert" className="pt-3 text-brick">
            {problem.message}
          </p>
        )}
        <Button type="submit" look="main" className="mt-4 h-12 w-full text-lg" disabled={busy}>
          {busy ? 'Signing in …' : 'Sign in'}
        </Button>
        {location.protocol === 'https:' && (
          <a
            href={TRUST}
            className="mt-3 inline-flex min-h-11 items-center text-sm text-tawny-2 underline underline-offset-2"
          >
            The browser warned of this page?
          </a>
        )}
      </form>
    </main>
  );
}
