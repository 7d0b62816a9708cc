/** How often anything that moves is sent: fades, ramps and glides. Smoother than the 44 frames a second of DMX512 (ANSI E1.11). */
export const MOVE_MS = 20;
