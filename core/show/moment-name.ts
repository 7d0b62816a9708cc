/** What a moment is called. */
export const momentName = ({ cue, name }: { cue: string; name: string }): string =>
  name ? `${cue} · ${name}` : cue;
