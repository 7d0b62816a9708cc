/** Who has signed in here, in the top bar, with what else has its place there. Only the latter where nobody had to. */
import type { ReactNode } from 'react';
import { CircleUserRound } from 'lucide-react';
import { ROLE_WORDS } from '@tawny-signal/core/people/roles';
import { Button, IconButton } from '../ui/button';
import { Pop } from '../ui/pop';
import { useMe } from './me';
import { signOut } from './people';

export function Who({ children }: { children: ReactNode }) {
  const me = useMe();
  if (!me?.signedIn || me.role === null) return children;
  return (
    <Pop
      align="end"
      width="w-72"
      trigger={
        <IconButton label={`Signed in: ${me.name}, ${me.role}`}>
          <CircleUserRound size={17} aria-hidden />
        </IconButton>
      }
    >
      <p className="text-lg font-semibold">{me.name}</p>
      <p className="pb-3 text-ink-2">
        <span className="capitalize">{me.role}</span>: {ROLE_WORDS[me.role]}.
      </p>
      <div className="flex items-center justify-between">
        <Button onClick={() => void signOut().catch(() => undefined)}>Sign out</Button>
        {children}
      </div>
    </Pop>
  );
}
