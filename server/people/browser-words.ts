/** A few words for what a browser says of itself (its `User-Agent`). */
export function browserWords(agent: string): string {
  const browser = /(Firefox|Edg|Chrome|Safari)/.exec(agent)?.[1] ?? 'another program';
  const system = /(Android|iPad|iPhone|Windows|Macintosh|Linux)/.exec(agent)?.[1];
  return [browser === 'Edg' ? 'Edge' : browser, ...(system ? [system] : [])].join(', ');
}
