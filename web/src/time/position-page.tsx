/** The show's position: where it is, where it comes from and goes to, and the moments along it. */
import { Page } from '../ui/page';
import { useShow } from '../show/show';
import { Calls } from './calls';
import { Clock } from './clock';
import { HowItIsKept } from './how-it-is-kept';
import { Outputs } from './outputs';
import { Own } from './own';
import { Sources } from './sources';
import { Strip } from './strip';
import { TimeTabs } from './tabs';
import { WritingBar } from './writing';

export function PositionPage() {
  const show = useShow();
  return (
    <Page
      title="Time"
      aside={
        <>
          <TimeTabs at="Position" />
          <Calls />
        </>
      }
      actions={<WritingBar />}
    >
      <div className="min-h-0 flex-1 overflow-y-auto pb-6">
        <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 border-t border-rule pt-2 pb-3">
          <Clock show={show} />
          <Own show={show} />
        </div>
        <div className="grid gap-x-8 gap-y-3 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
          <Sources show={show} />
          <Outputs show={show} of="position" />
        </div>
        <Strip show={show} />
        <HowItIsKept settings={show.settings.timecode} />
      </div>
    </Page>
  );
}
