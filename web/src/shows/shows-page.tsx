/** Every show that is kept here, and the versions of the open one. */
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../show/api';
import { useShow } from '../show/show';
import { useOpening, useShows } from '../show/shows';
import { SaveLink } from '../files/save-link';
import { Button } from '../ui/button';
import { Page } from '../ui/page';
import { Pop } from '../ui/pop';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { OpenShowFile } from './open-show-file';
import { ShowList } from './show-list';
import { VersionList } from './version-list';

export function ShowsPage() {
  const { settings } = useShow();
  const list = useShows();
  return (
    <Page
      title="Shows"
      actions={
        <>
          <SaveLink href="/api/files/show">Save the open show</SaveLink>
          <OpenShowFile />
          <NewShow />
        </>
      }
    >
      <div className="min-h-0 flex-1 overflow-y-auto pb-6">
        {list && <ShowList {...list} />}
        <div className="pt-7">
          <VersionList showName={settings.name} />
        </div>
      </div>
    </Page>
  );
}

function NewShow() {
  const go = useNavigate();
  const [open, setOpen] = useState(false);
  const [withLines, setWithLines] = useState(true);
  const begin = useOpening((name: string) => call('POST', 'shows', { name, withLines }));
  return (
    <Pop
      align="end"
      width="w-96"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button look="main" needs="edit">
          <Plus size={15} aria-hidden /> New show
        </Button>
      }
    >
      <TypedField
        label="Name"
        value=""
        placeholder="like Second night"
        hint="Press Enter to make it and open it. The open show stays in the list."
        commit={async (name) => {
          await begin.mutateAsync(name);
          setOpen(false);
          void go(withLines ? '/mappings' : '/lines/new');
        }}
      />
      <div className="pt-1 pl-24">
        <Switch label="With these lines and layouts" on={withLines} change={setWithLines} />
      </div>
    </Pop>
  );
}
