/** Layouts: the controls of each controller, drawn as they are arranged. They are learned by touching, saved as files, and used in names. */
import { Plus, Radio } from 'lucide-react';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { count } from '@tawny-signal/core/plural';
import type { Show } from '@tawny-signal/core/show';
import type { Layout } from '@tawny-signal/core/show/layout';
import { usesOfControls } from '@tawny-signal/core/uses/controls';
import { OpenFile } from '../files/open-file';
import { SaveLink } from '../files/save-link';
import { protocolOf } from '../lines/kinds';
import { freeName } from '../show/free-name';
import { Tabs } from '../mappings/tabs';
import { RemoveButton } from '../show/removing';
import { useAddRow, useChangeRow, useShow } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { Empty, Page } from '../ui/page';
import { TypedField } from '../ui/typed-field';
import { ControlDetail } from './control-detail';
import { Drawing } from './drawing';
import { useLayoutLearn } from './use-layout-learn';

export function LayoutsPage() {
  const show = useShow();
  const { layoutId } = useParams();
  const go = useNavigate();
  const add = useAddRow('layouts');
  const layout = show.layouts.find(({ id }) => id === layoutId) ?? show.layouts[0];
  const firstLine = show.lines.find((line) => protocolOf(line) === 'midi')?.id ?? null;
  const make = (): void =>
    add.mutate(
      { name: freeName(show.layouts, 'New controller'), lineId: firstLine },
      { onSuccess: (made) => void go(`/mappings/layouts/${made.id}`) },
    );
  return (
    <Page
      title="Layouts"
      aside={
        <>
          <Tabs at="Layouts" />
          <div role="group" aria-label="Controllers" className="flex flex-wrap gap-1">
            {show.layouts.map((one) => (
              <Button
                key={one.id}
                aria-pressed={one === layout}
                className={one === layout ? 'border-tawny! font-semibold' : ''}
                onClick={() => void go(`/mappings/layouts/${one.id}`)}
              >
                {one.name}
              </Button>
            ))}
          </div>
        </>
      }
      actions={
        <>
          <OpenFile kind="layout" words="Open a layout" />
          <Button needs="edit" onClick={make}>
            <Plus size={15} aria-hidden /> New layout
          </Button>
        </>
      }
    >
      {layout ? (
        <OneLayout key={layout.id} layout={layout} />
      ) : (
        <Empty words="A layout says what a controller has on it: its pads, faders and lamps, with their names. Make one, press Learn, and touch every control once.">
          <Button needs="edit" look="main" onClick={make}>
            New layout
          </Button>
        </Empty>
      )}
    </Page>
  );
}

/** What loses the names of its controls when a layout is removed. */
function calledAfter(show: Show, layout: Layout): string {
  const used = usesOfControls(show, layout).size;
  return used === 0
    ? ''
    : `${count(used, 'control')} of ${layout.name} ${used === 1 ? 'is' : 'are'} in use. Everything goes on working, but is called by note and controller numbers again.`;
}

function OneLayout({ layout }: { layout: Layout }) {
  const show = useShow();
  const go = useNavigate();
  const { mutateAsync } = useChangeRow('layouts');
  const [chosen, choose] = useState<string | null>(null);
  const change = (values: Partial<Layout>): Promise<unknown> =>
    mutateAsync({ id: layout.id, change: values });
  const learn = useLayoutLearn(layout, change);
  const control = layout.controls.find(({ id }) => id === chosen);
  return (
    <div className="flex min-h-0 flex-1 gap-4 border-t border-rule pt-3 max-lg:flex-col max-lg:overflow-y-auto">
      <div className="min-w-0 overflow-auto pb-6 lg:flex-1">
        {learn.on && (
          <p role="status" className="mb-2 border-l-3 border-dusk bg-bark px-3 py-2 text-sm">
            Touch every control of {layout.name} once, in the order of their places. {layout.controls.length}{' '}
            so far. Esc or Done ends it.
          </p>
        )}
        <Drawing layout={layout} show={show} chosen={chosen} choose={choose} change={change} />
      </div>
      <aside aria-label="This layout" className="shrink-0 pb-6 lg:w-80 lg:overflow-y-auto">
        <TypedField label="Name" value={layout.name} commit={(name) => change({ name })} />
        <Choice
          label="On line"
          value={layout.lineId}
          placeholder="Choose its line"
          options={show.lines
            .filter((line) => protocolOf(line) === 'midi')
            .map(({ id, name }) => ({ value: id, words: name }))}
          choose={(lineId) => change({ lineId })}
        />
        <div className="flex flex-wrap gap-1.5 py-2">
          <Button
            needs="edit"
            look="main"
            aria-pressed={learn.on}
            disabled={layout.lineId === null}
            onClick={learn.on ? learn.stop : learn.start}
          >
            <Radio size={15} aria-hidden /> {learn.on ? 'Done' : 'Learn its controls'}
          </Button>
          <SaveLink href={`/api/files/layout/${layout.id}`}>Save as a file</SaveLink>
          <RemoveButton
            table="layouts"
            row={layout}
            also={() => calledAfter(show, layout)}
            after={() => go('/mappings/layouts')}
          >
            Remove layout
          </RemoveButton>
        </div>
        {control ? (
          <ControlDetail key={control.id} control={control} layout={layout} show={show} change={change} />
        ) : (
          <p className="border-t border-rule pt-3 text-sm text-ink-2">
            Choose a control to name it, set its lamp, or map it.
          </p>
        )}
      </aside>
    </div>
  );
}
