/** A button that opens a file. The same file can be opened again. */
import { Upload } from 'lucide-react';
import { useId } from 'react';

interface FileButtonProps {
  words: string;
  /** The kinds of file in the dialog of the system, like `accept` of an input. */
  accept: string;
  take: (file: File) => void;
  main?: boolean;
}

const LOOKS = {
  plain: 'border border-rule px-3 focus-within:outline-tawny hover:bg-bark-2',
  main: 'bg-tawny px-3 font-semibold text-on-tawny focus-within:outline-ink hover:bg-tawny-2',
};

export function FileButton({ words, accept, take, main = false }: FileButtonProps) {
  const id = useId();
  return (
    <label
      htmlFor={id}
      className={`inline-flex min-h-8 cursor-pointer items-center gap-1.5 rounded focus-within:outline-2 ${main ? LOOKS.main : LOOKS.plain}`}
    >
      <Upload size={14} aria-hidden /> {words}
      <input
        id={id}
        type="file"
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
