/** The page of routes: a picture, and a table to edit. */
import { CARRIES, isRouted } from '@tawny-signal/core/show/line';
import { Plus } from 'lucide-react';
import { useRef } from 'react';
import { useNavigate, useParams } from 'react-router';
import { Tabs } from '../lines/tabs';
import { useAddRoute, useShow } from '../show/show';
import { Button } from '../ui/button';
import { Empty, Page } from '../ui/page';
import { walkRows } from '../ui/walk-rows';
import { Picture } from './picture';
import { RouteRow } from './route-row';

export function RoutesPage() {
  const show = useShow();
  const { routeId } = useParams();
  const go = useNavigate();
  const add = useAddRoute();
  const list = useRef<HTMLOListElement>(null);
  const first = show.lines.find((line) => isRouted(CARRIES[line.kind]));
  return (
    <Page
      title="Routes"
      aside={<Tabs at="Routes" />}
      actions={
        <Button
          needs="edit"
          look="main"
          disabled={!first}
          onClick={() =>
            add.mutate(
              { fromId: first!.id, toId: null },
              { onSuccess: (made) => void go(`/lines/routes/${made.id}`) },
            )
          }
        >
          <Plus size={15} aria-hidden /> Add a route
        </Button>
      }
    >
      <div className="min-h-0 flex-1 overflow-y-auto pb-6">
        <Picture show={show} openId={routeId ?? null} />
        {show.routes.length === 0 && (
          <Empty words="There are no routes yet. Drag from a line on the left of the picture to one on the right, or press Add a route." />
        )}
        <ol ref={list} onKeyDown={(event) => walkRows(event, list.current)} className="border-t border-rule">
          {show.routes.map((route, at) => (
            <RouteRow key={route.id} route={route} show={show} number={at + 1} open={route.id === routeId} />
          ))}
        </ol>
      </div>
    </Page>
  );
}
