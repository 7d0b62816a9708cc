/** Paints the water screen: a pier at night with a lantern at its end, and the effects of the signals on water and sky. */

export interface WaterScene {
  hue: number;
  density: number;
  tide: number;
  swell: number;
  glow: number;
  storm: { count: number; force: number };
  ripple: { count: number; at: number };
  /** The timecode that it was told last; empty for none. */
  time: string;
}

export interface Painter {
  /** @param scene what is wished; null paints the dark. @param now milliseconds, always growing */
  paint(scene: WaterScene | null, now: number): void;
}

interface Shard {
  x: number;
  y: number;
  vx: number;
  vy: number;
  size: number;
  born: number;
  hue: number;
}

interface Ring {
  x: number;
  born: number;
}

const WIDTH = 960;
const HEIGHT = 540;
const SHARD_MS = 1800;
const RING_MS = 2200;
const FLASH_MS = 420;
const FOG_BANKS = 26;

/** Returns a number 0–1 that is always the same for the same seed. */
const scatter = (seed: number): number => {
  const x = Math.sin(seed * 127.1 + 11.7) * 43_758.5453;
  return x - Math.floor(x);
};

/** The time in which values move to their targets, like light and water. */
const toward = (from: number, to: number, ms: number): number =>
  from + (to - from) * (1 - Math.exp(-ms / 90));

/** @param scale the resolution: 1 is 960 by 540 */
export function createPainter(canvas: HTMLCanvasElement, scale: number): Painter {
  canvas.width = WIDTH * scale;
  canvas.height = HEIGHT * scale;
  const c = canvas.getContext('2d')!;
  c.scale(scale, scale);
  const shown = { hue: 0.55, density: 0, water: 0.3, glow: 0 };
  let last = 0;
  let storms: number | null = null;
  let ripples: number | null = null;
  let flashAt = -Infinity;
  let flashForce = 0;
  let shards: Shard[] = [];
  let rings: Ring[] = [];

  function follow(scene: WaterScene, now: number): void {
    const ms = Math.min(100, now - last);
    // The hue takes the shorter way around the circle.
    const turn = ((scene.hue - shown.hue + 1.5) % 1) - 0.5;
    shown.hue = (toward(0, turn, ms) + shown.hue + 1) % 1;
    shown.density = toward(shown.density, scene.density, ms);
    shown.water = toward(shown.water, scene.tide * 0.6 + scene.swell * 0.5, ms);
    shown.glow = toward(shown.glow, scene.glow, ms);
    if (storms !== null && scene.storm.count > storms) breakGlass(scene.storm.force, now);
    if (ripples !== null && scene.ripple.count > ripples)
      rings.push({ x: (0.08 + 0.84 * scene.ripple.at) * WIDTH, born: now });
    storms = scene.storm.count;
    ripples = scene.ripple.count;
  }

  function breakGlass(force: number, now: number): void {
    flashAt = now;
    flashForce = force;
    const count = Math.round(30 + force * 130);
    for (let i = 0; i < count; i++) {
      const angle = scatter(now + i) * Math.PI * 2;
      const speed = (0.08 + scatter(now * 3 + i) * 0.42) * (0.35 + force);
      shards.push({
        x: WIDTH * 0.5,
        y: HEIGHT * 0.34,
        vx: Math.cos(angle) * speed,
        vy: Math.sin(angle) * speed - 0.08,
        size: 3 + scatter(i * 7) * 13 * (0.4 + force),
        born: now,
        hue: shown.hue * 360 + scatter(i * 13) * 50 - 25,
      });
    }
  }

  function sky(): void {
    const hue = shown.hue * 360;
    const gradient = c.createLinearGradient(0, 0, 0, HEIGHT * 0.75);
    gradient.addColorStop(0, `hsl(${hue} 45% 7%)`);
    gradient.addColorStop(0.6, `hsl(${hue + 10} 50% 21%)`);
    gradient.addColorStop(1, `hsl(${hue + 24} 58% 36%)`);
    c.fillStyle = gradient;
    c.fillRect(0, 0, WIDTH, HEIGHT);
    c.fillStyle = `hsl(${hue} 40% 80%)`;
    for (let i = 0; i < 70; i++) {
      c.globalAlpha = 0.15 + 0.5 * scatter(i * 3.3);
      c.fillRect(scatter(i) * WIDTH, scatter(i + 200) * HEIGHT * 0.5, 1.6, 1.6);
    }
    c.globalAlpha = 1;
  }

  function pier(now: number): void {
    const deck = HEIGHT * 0.56;
    c.fillStyle = '#07080a';
    c.fillRect(WIDTH * 0.56, deck, WIDTH * 0.44, 9);
    for (let i = 0; i < 9; i++) c.fillRect(WIDTH * (0.575 + i * 0.05), deck, 7, HEIGHT * 0.4);
    // The lantern stands at the pier's end.
    const x = WIDTH * 0.6;
    c.fillRect(x - 4, deck - 74, 8, 74);
    c.fillRect(x - 15, deck - 108, 30, 36);
    const flicker = 1 + 0.05 * Math.sin(now / 70) * shown.glow;
    const glow = shown.glow * flicker;
    if (glow > 0.01) {
      const light = c.createRadialGradient(x, deck - 90, 2, x, deck - 90, 70 + 260 * glow);
      light.addColorStop(0, `hsl(36 95% 70% / ${Math.min(1, 0.3 + glow)})`);
      light.addColorStop(0.25, `hsl(32 90% 55% / ${0.45 * glow})`);
      light.addColorStop(1, 'hsl(30 90% 50% / 0)');
      c.fillStyle = light;
      c.fillRect(0, 0, WIDTH, HEIGHT);
    }
    c.fillStyle = `hsl(38 90% ${20 + 60 * shown.glow}%)`;
    c.fillRect(x - 10, deck - 102, 20, 24);
  }

  function water(now: number): void {
    const hue = shown.hue * 360;
    const level = HEIGHT * (0.86 - 0.34 * Math.min(1, shown.water));
    for (let layer = 0; layer < 4; layer++) {
      const top = level + layer * 26;
      const height = (5 + shown.water * 17) * (1 - layer * 0.13);
      c.beginPath();
      c.moveTo(0, HEIGHT);
      for (let x = 0; x <= WIDTH; x += 6) {
        const wave = Math.sin(x / (118 - layer * 17) + now / (900 + layer * 260) + layer * 1.7);
        const chop = Math.sin(x / 41 - now / 610 + layer);
        c.lineTo(x, top + wave * height + chop * height * 0.3 + ringsAt(x, now) * (1 - layer * 0.2));
      }
      c.lineTo(WIDTH, HEIGHT);
      c.fillStyle = `hsl(${hue + 16 - layer * 6} ${62 - layer * 4}% ${38 - layer * 8}% / 0.88)`;
      c.fill();
      c.strokeStyle = `hsl(${hue + 16} 75% 78% / ${0.55 - layer * 0.14})`;
      c.lineWidth = 1.6;
      c.stroke();
    }
    reflection(level, now);
  }

  /** The lantern's light lies on the water in broken strokes. */
  function reflection(level: number, now: number): void {
    for (let i = 0; i < 16; i++) {
      const y = level + 22 + i * 11;
      const width = (26 + i * 5) * (0.5 + shown.glow);
      const x = WIDTH * 0.6 + Math.sin(now / 460 + i * 1.9) * (4 + i * 1.4);
      c.fillStyle = `hsl(38 90% 66% / ${(0.05 + 0.5 * shown.glow) * (1 - i / 18)})`;
      c.fillRect(x - width / 2, y, width, 3);
    }
  }

  function ringsAt(x: number, now: number): number {
    let height = 0;
    for (const ring of rings) {
      const age = (now - ring.born) / RING_MS;
      const away = Math.abs(x - ring.x) - age * 240;
      height += Math.cos(away / 16) * 20 * (1 - age) * (1 - age) * Math.exp(-(away * away) / 3600);
    }
    return height;
  }

  function fog(now: number): void {
    if (shown.density < 0.01) return;
    for (let i = 0; i < FOG_BANKS; i++) {
      const speed = 6 + scatter(i * 5) * 16;
      const x = ((scatter(i) * WIDTH * 1.5 + (now / 1000) * speed) % (WIDTH * 1.5)) - WIDTH * 0.25;
      const y = HEIGHT * (0.36 + 0.5 * scatter(i + 40));
      const radius = 80 + 150 * scatter(i + 90);
      const bank = c.createRadialGradient(x, y, 0, x, y, radius);
      bank.addColorStop(0, `hsl(${shown.hue * 360} 14% 82% / ${0.2 * shown.density})`);
      bank.addColorStop(1, `hsl(${shown.hue * 360} 14% 82% / 0)`);
      c.fillStyle = bank;
      c.fillRect(x - radius, y - radius, radius * 2, radius * 2);
    }
    c.fillStyle = `hsl(${shown.hue * 360} 10% 72% / ${0.3 * shown.density * shown.density})`;
    c.fillRect(0, 0, WIDTH, HEIGHT);
  }

  function storm(now: number): void {
    const flash = 1 - (now - flashAt) / FLASH_MS;
    if (flash > 0) {
      c.fillStyle = `hsl(46 90% 88% / ${flash * flash * (0.25 + 0.6 * flashForce)})`;
      c.fillRect(0, 0, WIDTH, HEIGHT);
    }
    shards = shards.filter((shard) => now - shard.born < SHARD_MS);
    for (const shard of shards) {
      const age = now - shard.born;
      const x = shard.x + shard.vx * age;
      const y = shard.y + shard.vy * age + 0.00016 * age * age;
      c.save();
      c.translate(x, y);
      c.rotate(shard.size + age / 240);
      c.fillStyle = `hsl(${shard.hue} 80% 82% / ${1 - age / SHARD_MS})`;
      c.beginPath();
      c.moveTo(0, -shard.size);
      c.lineTo(shard.size * 0.45, shard.size * 0.5);
      c.lineTo(-shard.size * 0.4, shard.size * 0.3);
      c.fill();
      c.restore();
    }
  }

  return {
    paint(scene, now) {
      if (scene) follow(scene, now);
      last = now;
      rings = rings.filter((ring) => now - ring.born < RING_MS);
      if (!scene) {
        c.fillStyle = '#0b0d10';
        c.fillRect(0, 0, WIDTH, HEIGHT);
        return;
      }
      sky();
      pier(now);
      water(now);
      fog(now);
      storm(now);
    },
  };
}
