/** The box of a place that finds in what it shows; the key / goes to it. */
export interface FindFieldProps {
  label: string;
  text: string;
  find: (text: string) => void;
}

export function FindField({ label, text, find }: FindFieldProps) {
  return (
    <input
      type="search"
      data-find
      aria-label={label}
      placeholder="Find ( / )"
      value={text}
      onChange={(event) => find(event.target.value)}
      onKeyDown={(event) => event.key === 'Escape' && find('')}
      className="h-8 w-32 rounded border border-rule bg-paper px-2"
    />
  );
}
