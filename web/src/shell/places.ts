/** The places of the interface, in the order of the top bar. */
export interface Place {
  path: string;
  words: string;
}

export const PLACES: Place[] = [
  { path: '/lines', words: 'Lines' },
  { path: '/mappings', words: 'Mappings' },
  { path: '/motion', words: 'Motion' },
  { path: '/order', words: 'Running order' },
  { path: '/time', words: 'Time' },
  { path: '/traffic', words: 'Traffic' },
  { path: '/stand-ins', words: 'Stand-ins' },
  { path: '/prompt', words: 'Prompt desk' },
];
