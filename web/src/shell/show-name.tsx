/** The name of the open show, which opens its settings. */
import { Suspense, useEffect } from 'react';
import { useShow } from '../show/show';
import { Pop } from '../ui/pop';
import { ShowSettings } from './later';

export function ShowName() {
  const { settings } = useShow();
  useEffect(() => {
    document.title = `${settings.name} · Tawny Signal`;
  }, [settings.name]);
  return (
    <Pop
      align="start"
      width="w-96"
      trigger={
        <button
          type="button"
          aria-label={`Show: ${settings.name}`}
          title="The show: its name, middle C and files"
          className="block max-w-37 truncate text-left text-xs leading-4 text-ink-2 hover:text-ink"
        >
          {settings.name}
        </button>
      }
    >
      <Suspense>
        <ShowSettings />
      </Suspense>
    </Pop>
  );
}
