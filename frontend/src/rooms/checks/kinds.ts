import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

export type Kind = Schemas['CheckKind']
/** Names of the checks, and in one line how each is done. */
export const KINDS: Record<Kind, { name: string; how: string[] }> = {
  spread: {
    name: 'Spread',
    how: [
      'Half a millilitre from the syringe onto the lower plate.',
      'Lower the upper plate with its weight and let go; wait 60 s.',
      'Measure across twice, at right angles.',
    ],
  },
  density: {
    name: 'Density and air',
    how: [
      'Weigh the syringe empty.',
      'Fill it with paint to its mark, no bubble at the tip.',
      'Wipe it and weigh it full.',
    ],
  },
  string: {
    name: 'String',
    how: [
      'Press the knife flat into the paste.',
      'Lift it straight up, slowly.',
      'Measure the longest thread when it breaks.',
    ],
  },
  fineness: {
    name: 'Fineness',
    how: [
      'A drop at the deep end of the gauge.',
      'Draw it to the shallow end in one stroke.',
      'Read where specks begin, within 10 s.',
    ],
  },
  bleed: {
    name: 'Bleed',
    how: [
      'A dab of 10 mm on blotting paper.',
      'Leave it flat for 24 h.',
      'Measure the oil halo outside the dab.',
    ],
  },
  masstone: {
    name: 'Masstone',
    how: [
      'Draw it out thick, so that nothing shows through.',
      'Read or photograph it with the grey card beside it.',
    ],
  },
  undertone: { name: 'Undertone', how: ['Drag it thin over white.', 'Read the thin end.'] },
  tint: {
    name: 'Tint',
    how: ['One part paint to ten of the fixed white, by weight.', 'Mix until it is even; read it.'],
  },
  drying: {
    name: 'Drying',
    how: [
      'A film of usual thickness, in daylight.',
      'Touch it lightly with a clean finger: wet, tacky, or dry.',
    ],
  },
  transparency: {
    name: 'Transparency',
    how: ['Drag it over the black and white card.', 'Look how much the black still shows.'],
  },
  texture: { name: 'Texture', how: ['Draw it out with the knife.', 'Feel and look across the light.'] },
  brush_mark: { name: 'Brush mark', how: ['One stroke with a bristle brush.', 'Look after five minutes.'] },
}
export const COLOURS: Kind[] = ['masstone', 'undertone', 'tint']
export const RELEASES: Record<Schemas['Release'], { name: string; does: string }> = {
  release: { name: 'release', does: 'It keeps what the recipe promises.' },
  watch: { name: 'release and watch', does: 'It may go, and the next batches are looked at.' },
  adjust: { name: 'adjust', does: 'Bring it back on the slab.' },
  hold: { name: 'hold', does: 'It is not to go as released stock.' },
  wait: { name: 'checks due', does: 'Something promised is not checked yet.' },
}
/** A result in its unit, to honest digits. */
export const result = (value: number | string | undefined, unit: string) =>
  value == null
    ? ''
    : typeof value === 'string'
      ? value
      : `${digits(value, 1)} ${unit === 'um' ? 'µm' : unit === 'dE00' ? 'ΔE00' : unit}`
export const unitName = (unit: string) => (unit === 'um' ? 'µm' : unit === 'dE00' ? 'ΔE00' : unit)
/** A tolerance in words. */
export function promise(w: Schemas['Wanted']): string {
  if (w.choice) return w.choice
  const range =
    w.low != null && w.high != null
      ? `${w.low} to ${w.high}`
      : w.high != null
        ? `up to ${w.high}`
        : w.low != null
          ? `from ${w.low}`
          : ''
  return [w.target != null ? `${w.target}` : '', range && `(${range})`].filter(Boolean).join(' ')
}
