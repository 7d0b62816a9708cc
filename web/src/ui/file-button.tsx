/** A button that opens a file. The same file can be opened again. */
import { Upload } from 'lucide-react';
import { useId } from 'react';
import { useWhyNot, type ActNeed } from './read-only';

interface FileButtonProps {
  words: string;
  /** The kinds of file in the dialog of the system, like `accept` of an input. */
  accept: string;
  take: (file: File) => void;
  main?: boolean;
  /** What its act needs, as of a button. */
  needs?: ActNeed;
}

const LOOKS = {
  plain: 'border border-rule px-3 focus-within:outline-tawny hover:bg-bark-2',
  main: 'bg-tawny px-3 font-semibold text-on-tawny focus-within:outline-ink hover:bg-tawny-2',
};

export function FileButton({ words, accept, take, main = false, needs }: FileButtonProps) {
  const id = useId();
  const whyNot = useWhyNot(needs);
  return (
    <label
      htmlFor={id}
      title={whyNot}
      className={`inline-flex min-h-8 items-center gap-1.5 rounded focus-within:outline-2 ${whyNot === undefined ? 'cursor-pointer' : 'cursor-not-allowed opacity-45'} ${main ? LOOKS.main : LOOKS.plain}`}
    >
      <Upload size={14} aria-hidden /> {words}
      <input
        id={id}
        type="file"
        disabled={whyNot !== undefined}
        accept={accept}
        className="sr-only"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) take(file);
        }}
      />
    </label>
  );
}
