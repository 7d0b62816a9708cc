/** Hue, saturation and brightness to red, green and blue (CSS Color 4, "HSV" as used by colour pickers; from memory). */

export interface Rgb {
  /** 0–1 */
  red: number;
  green: number;
  blue: number;
}

/** @param hue degrees, any. @param saturation 0–100 %. @param brightness 0–100 % */
export function hsbToRgb(hue: number, saturation: number, brightness: number): Rgb {
  const value = Math.max(0, Math.min(100, brightness)) / 100;
  const chroma = value * (Math.max(0, Math.min(100, saturation)) / 100);
  const part = (n: number): number => {
    const k = (((n + hue / 60) % 6) + 6) % 6;
    return value - chroma * Math.max(0, Math.min(k, 4 - k, 1));
  };
  return { red: part(5), green: part(3), blue: part(1) };
}
