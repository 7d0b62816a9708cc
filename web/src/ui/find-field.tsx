/** The search field of a page. The key / focuses it, the down arrow goes to the first row that it found. */
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
      onKeyDown={(event) => {
        if (event.key === 'Escape') find('');
        if (event.key !== 'ArrowDown' && event.key !== 'Enter') return;
        event.preventDefault();
        document.querySelector<HTMLElement>('main [data-row]')?.focus();
      }}
      className="h-8 w-32 rounded border border-rule bg-paper px-2"
    />
  );
}
