/** The name of a moment. */
export const momentName = ({ cue, name }: { cue: string; name: string }): string =>
  name ? `${cue} · ${name}` : cue;
