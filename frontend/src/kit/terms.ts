/**
 * A drawing for each term of the craft: shapes in a box of 160 by 64, each a path and how it is drawn. `line` is drawn
 * thin, `dark` and `pale` are filled, `paint` is filled in the colour of what one does, `dash` is dashed.
 */
export type Shape = ['line' | 'dark' | 'pale' | 'paint' | 'dash', string]

const circle = (x: number, y: number, r: number): string =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0z`
const box = (x: number, y: number, w: number, h: number): string => `M${x} ${y}h${w}v${h}h${-w}z`
const FLOOR: Shape = ['line', 'M8 58H152']
const TUBE = 'M34 18h84l14 8v12l-14 8H34l-8-14z'
const grains = (places: [number, number][], r: number): Shape[] =>
  places.map(([x, y]) => ['dark', circle(x, y, r)])

export const DRAWINGS: Record<string, Shape[]> = {
  pour: [
    ['paint', box(16, 14, 26, 44)],
    ['pale', box(58, 36, 22, 22)],
    ['pale', box(92, 44, 18, 14)],
    ['pale', box(122, 48, 14, 10)],
    FLOOR,
  ],
  load: [
    ['line', box(12, 8, 136, 48)],
    ['paint', circle(58, 32, 20)],
    ['dash', circle(116, 32, 16)],
  ],
  'fold in': [['pale', 'M28 58c10-26 60-30 82 0z'], ['dark', 'M60 34 128 8l4 6-66 28z'], FLOOR],
  curds: [
    ...grains(
      [
        [30, 46],
        [48, 50],
        [44, 38],
        [66, 48],
        [80, 42],
        [96, 50],
        [110, 46],
        [124, 51],
      ],
      6,
    ),
    FLOOR,
  ],
  'even paste': [['paint', 'M22 58c6-26 34-30 58-30s50 6 58 30z'], FLOOR],
  body: [
    ...grains(
      [
        [14, 54],
        [20, 50],
      ],
      4,
    ),
    ['pale', box(30, 42, 14, 16)],
    ['pale', 'M54 58l6-22 6 22z'],
    ['paint', 'M78 58c2-16 6-26 12-30-1 10 4 20 8 30z'],
    ['pale', 'M108 58c4-14 14-14 18 0z'],
    ['pale', 'M132 58c4-5 18-5 22 0z'],
    FLOOR,
  ],
  long: [
    ['dark', 'M52 6h56v6H52z'],
    ['paint', 'M72 12h16c-2 18-4 26-4 34h-8c0-8-2-16-4-34z'],
    ['paint', 'M44 58c6-14 20-12 36-12s30-2 36 12z'],
  ],
  short: [
    ['dark', 'M52 6h56v6H52z'],
    ['paint', 'M68 12h24l-12 12z'],
    ['paint', 'M44 58c14-2 26-8 36-22 10 14 22 20 36 22z'],
  ],
  string: [
    ['dark', 'M34 6h56v6H34z'],
    ['paint', 'M56 12h12l-4 36h-4z'],
    ['paint', 'M34 58c6-10 50-10 56 0z'],
    ['line', 'M116 10v46M110 10h12M112 22h8M110 33h12M112 45h8M110 56h12'],
  ],
  mull: [
    ['line', box(10, 8, 140, 48)],
    ['dash', 'M30 32c0-20 30-20 30 0s30 20 30 0 30-20 30 0'],
    ['paint', circle(122, 32, 12)],
  ],
  loosens: [
    ['paint', 'M14 58l16-36 16 36z'],
    ['line', 'M64 40h26m-8-6 8 6-8 6'],
    ['paint', 'M102 58c6-16 38-16 44 0z'],
    FLOOR,
  ],
  'rub-out': [
    ...grains(
      [
        [20, 48],
        [26, 52],
        [16, 54],
      ],
      3,
    ),
    ['pale', 'M48 12c-6 9-6 14 0 14s6-5 0-14z'],
    ['line', 'M66 40h16m-6-5 6 5-6 5'],
    ['paint', 'M96 56c2-18 44-18 46 0z'],
    ['dark', 'M104 30l34-16 3 5-34 16z'],
    FLOOR,
  ],
  'oil absorption': [
    ['pale', 'M20 58c8-26 40-26 48 0z'],
    ['line', 'M80 36v14M73 43h14'],
    ['paint', 'M116 14c-14 20-14 34 0 34s14-14 0-34z'],
    FLOOR,
  ],
  'wetting scale': [
    ['line', box(8, 22, 144, 20)],
    ['pale', box(86, 23, 26, 18)],
    ['line', 'M38 22v20M62 22v20M86 22v20M112 22v20M132 22v20'],
    ['dark', 'M60 56h16l-8-11z'],
    ['paint', 'M90 8h16l-8 12z'],
  ],
  'reduced PVC': [
    ['line', box(14, 16, 132, 36)],
    ...grains(
      [
        [32, 30],
        [52, 38],
        [72, 28],
        [92, 38],
        [112, 29],
        [130, 39],
      ],
      9,
    ),
  ],
  CPVC: [
    ['line', box(14, 12, 132, 42)],
    ...grains(
      [
        [25, 43],
        [45, 43],
        [65, 43],
        [85, 43],
        [105, 43],
        [125, 43],
        [35, 25],
        [55, 25],
        [75, 25],
        [95, 25],
        [115, 25],
      ],
      10,
    ),
  ],
  'yield stress': [
    ['dark', box(62, 6, 36, 14)],
    ['line', box(20, 22, 120, 7)],
    ['paint', 'M46 30h68c8 6 8 12 0 18H46c-8-6-8-12 0-18z'],
    ['line', box(20, 49, 120, 7)],
  ],
  bleed: [
    ['line', box(16, 4, 128, 56)],
    ['pale', circle(80, 32, 25)],
    ['paint', circle(80, 32, 14)],
  ],
  'grind gauge': [
    ['line', box(10, 14, 140, 36)],
    ['line', 'M26 20v24h110z'],
    ['dark', 'M60 30h4v12h-4zM70 34h4v9h-4zM82 38h3v5h-3z'],
  ],
  stabiliser: [
    ['line', TUBE],
    ['paint', 'M40 24h76v16H40z'],
    ...grains(
      [
        [52, 32],
        [68, 30],
        [84, 34],
        [100, 31],
      ],
      3,
    ),
  ],
  ladder: [
    ['pale', box(12, 48, 20, 10)],
    ['pale', box(44, 40, 20, 18)],
    ['paint', box(76, 30, 20, 28)],
    ['pale', box(108, 18, 20, 40)],
    FLOOR,
  ],
  'drying oil': [
    ['pale', 'M18 58c4-26 46-26 50 0z'],
    ['line', 'M78 42h14m-5-5 5 5-5 5'],
    ['paint', 'M100 58c4-26 42-26 46 0z'],
    ['line', 'M98 56c4-32 46-32 50 0'],
  ],
  headspace: [
    ['line', TUBE],
    ['paint', 'M66 20h50l12 7v10l-12 7H66z'],
    ['dash', 'M66 14v36'],
  ],
  sludge: [
    ['line', 'M52 8v46a6 6 0 0 0 6 6h44a6 6 0 0 0 6-6V8'],
    ['pale', box(53, 18, 54, 22)],
    ['dark', box(53, 40, 54, 18)],
  ],
  cake: [
    ['line', 'M20 34h120l-10 22H30z'],
    ['paint', 'M32 40h96l-4 10H36z'],
    ['line', 'M52 40l6 10M80 40l-4 10M104 40l4 10'],
  ],
  residual: [
    ['line', 'M16 6v50h136'],
    ['line', 'M20 12c10 30 40 38 128 40'],
    ['dash', 'M16 48h136'],
  ],
  base: [
    ['pale', 'M30 26l16-12h84l-16 12zM30 26h84v28H30zM114 26l16-12v28l-16 12z'],
    ['line', 'M58 26v28M86 26v28'],
  ],
  dent: [
    ['line', box(20, 34, 120, 24)],
    ['dark', 'M77 4h6v34l-3 12-3-12z'],
    ['dash', 'M100 34v16M92 50h16'],
  ],
  lake: [
    ['line', 'M56 6h48M60 6v18L36 54a4 4 0 0 0 3 6h82a4 4 0 0 0 3-6L100 24V6'],
    ['paint', 'M48 44h64l8 12H40z'],
  ],
  theory: [
    ['line', 'M80 10v44M60 56h40M36 18h88M36 18l-16 20h32zM124 18l-16 20h32z'],
    ['paint', 'M20 38h32c-4 10-28 10-32 0z'],
  ],
  masstone: [['paint', box(24, 10, 112, 44)]],
  tint: [
    ['paint', box(24, 10, 40, 44)],
    ['pale', box(64, 10, 72, 44)],
  ],
  transparency: [
    ['line', box(20, 8, 120, 48)],
    ['dark', box(58, 8, 10, 48)],
    ['dark', box(92, 8, 10, 48)],
    ['pale', box(34, 20, 92, 24)],
    ['dash', 'M58 20v24M68 20v24M92 20v24M102 20v24'],
  ],
  'colour difference': [
    ['paint', box(24, 10, 56, 44)],
    ['pale', box(80, 10, 56, 44)],
  ],
}
