import { RotateCcw } from 'lucide-react';
import { useNavigate } from 'react-router';
import { routeWords } from '@tawny-signal/core/routes/words';
import type { Show } from '@tawny-signal/core/show';
import type { Route } from '@tawny-signal/core/show/route';
import { useLiveValue } from '../live/live';
import { RemoveButton } from '../show/removing';
import { useChangeRow, useRestoreRoute } from '../show/show';
import { clockWords, lineName } from '../traffic/words';
import { Button } from '../ui/button';
import { Switch } from '../ui/switch';
import { OpenRow } from '../ui/open-row';
import { RouteFields } from './route-fields';

interface RouteRowProps {
  route: Route;
  show: Show;
  number: number;
  open: boolean;
}

export function RouteRow({ route, show, number, open }: RouteRowProps) {
  const go = useNavigate();
  const cutAt = useLiveValue('routes', (store) => store.cutAt(route.id));
  const toggle = (): void => void go(open ? '/lines/routes' : `/lines/routes/${route.id}`);
  const name = (id: string | null): string | null => show.lines.find((line) => line.id === id)?.name ?? null;
  const off = !route.on;
  return (
    <OpenRow
      number={number}
      open={open}
      toggle={toggle}
      columns="180px 24px 180px minmax(0, 1fr)"
      data={{ 'data-route': route.id }}
      summary={
        <>
          <End name={name(route.fromId)} missing="No line: choose where from" off={off} />
          <span aria-label="to" className="text-ink-3 max-lg:pl-3">
            →
          </span>
          <End name={name(route.toId)} missing="No line: choose where to" off={off} />
          <span className="pr-3 text-sm text-ink-2 max-lg:pl-3 lg:truncate">
            {off && <span className="text-straw">off · </span>}
            {cutAt !== null && <span className="text-brick">stopped: a loop · </span>}
            {routeWords(route)}
          </span>
        </>
      }
    >
      <RouteDetail route={route} show={show} cutAt={cutAt} />
    </OpenRow>
  );
}

function End({ name, missing, off }: { name: string | null; missing: string; off: boolean }) {
  return (
    <span className={`truncate pl-3 font-semibold ${name ? (off ? 'text-ink-2' : '') : 'text-brick'}`}>
      {name ?? missing}
    </span>
  );
}

function RouteDetail({ route, show, cutAt }: { route: Route; show: Show; cutAt: number | null }) {
  const change = useChangeRow('routes');
  const restore = useRestoreRoute();
  const go = useNavigate();
  const ends = [route.fromId, route.toId].map((id) => lineName(show, id ?? '')).join(' → ');
  return (
    <div className="px-3 pb-3 lg:pr-4 lg:pl-14">
      {cutAt !== null && (
        <div
          role="alert"
          className="mb-2 flex items-center gap-3 border-l-3 border-brick bg-raised px-3 py-2 text-sm"
        >
          <p className="flex-1">
            Cut at {clockWords(cutAt)}: the same messages came back again and again, so something outside
            leads from where this route sends to where it hears. Open that loop there, or let other channels
            through here, then restore it.
          </p>
          <Button needs="edit" onClick={() => restore.mutate(route.id)}>
            <RotateCcw size={15} aria-hidden /> Restore
          </Button>
        </div>
      )}
      <RouteFields
        route={route}
        show={show}
        save={(values) => change.mutateAsync({ id: route.id, change: values })}
      />
      <div className="flex items-center gap-4 pt-2">
        <Switch
          label={route.on ? 'On' : 'Off'}
          on={route.on}
          change={(on) => change.mutate({ id: route.id, change: { on } })}
        />
        <RemoveButton
          table="routes"
          row={{ id: route.id, name: `the route ${ends}` }}
          after={() => go('/lines/routes')}
        >
          Remove route
        </RemoveButton>
      </div>
    </div>
  );
}
