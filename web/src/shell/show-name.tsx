/** The name of the open show, which opens its settings. */
import { Suspense, useEffect, useState } from 'react';
import { useShow } from '../show/show';
import { Pop } from '../ui/pop';
import { ShowSettings } from './later';

export function ShowName() {
  const { settings } = useShow();
  useEffect(() => {
    document.title = `${settings.name} · Tawny Signal`;
  }, [settings.name]);
  const [open, setOpen] = useState(false);
  return (
    <Pop
      open={open}
      setOpen={setOpen}
      align="start"
      width="w-96"
      trigger={
        <button
          type="button"
          aria-label={`Show: ${settings.name}`}
          title="The show: its name, middle C and files"
          className="-my-1.5 flex min-h-8 max-w-full items-center truncate text-left text-sm text-ink-2 hover:text-ink lg:max-w-37 lg:text-xs"
        >
          {settings.name}
        </button>
      }
    >
      <Suspense>
        <ShowSettings close={() => setOpen(false)} />
      </Suspense>
    </Pop>
  );
}
