<script setup lang="ts">
/** The session over its time: the body it read as, oil as it went in, spells at the muller, looks and pictures. */
import { scaleLinear, scaleTime } from 'd3-scale'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { clock, digits, grams, massUnit } from '@/kit/format'

const props = defineProps<{
  story: Schemas['Story']
  zones: Schemas['Zone'][]
  target: number
  colour: string
}>()
const W = 700
const LEFT = 66
const RIGHT = 690
const BODY = { top: 14, bottom: 174 }
const OIL = { top: 190, bottom: 250 }
const SPELLS = 262

const points = computed(() => props.story.points.map((p) => ({ ...p, time: Date.parse(p.at) })))
const spells = computed(() =>
  props.story.spells.map((s) => ({ ...s, from: Date.parse(s.begun_at), to: Date.parse(s.ended_at) })),
)
const span = computed<[number, number]>(() => {
  const times = [...points.value.map((p) => p.time), ...spells.value.flatMap((s) => [s.from, s.to])]
  const [first, last] = [Math.min(...times), Math.max(...times)]
  return last > first ? [first, last] : [first - 60_000, first + 60_000]
})
const x = computed(() =>
  scaleTime()
    .domain(span.value.map((t) => new Date(t)))
    .range([LEFT, RIGHT - 10]),
)
const at = (time: number) => x.value(new Date(time))
/** Stiff above, loose below, as far as the session went. */
const y = computed(() => {
  const read = points.value.map((p) => p.reduced_pvc).filter((v): v is number => v != null)
  return scaleLinear()
    .domain([Math.max(1.15, Math.min(1.5, ...[Math.max(...read, 1.05)])), Math.min(0.6, ...read)])
    .range([BODY.top, BODY.bottom])
    .clamp(true)
})
const poured = computed(() =>
  scaleLinear()
    .domain([0, Math.max(1, ...points.value.map((p) => p.oil_g))])
    .range([OIL.bottom, OIL.top]),
)
const read = computed(() => points.value.filter((p) => p.reduced_pvc != null))
/** The paste stays as it is until the next act changes it. */
function steps(value: (p: (typeof points.value)[number]) => number, of = read.value): string {
  return (
    of
      .map((p, n) =>
        n
          ? `H${at(p.time).toFixed(1)}V${value(p).toFixed(1)}`
          : `M${at(p.time).toFixed(1)} ${value(p).toFixed(1)}`,
      )
      .join('') + `H${RIGHT - 10}`
  )
}
const band = computed(() => {
  const some = read.value
  if (!some.length) return ''
  const corners: string[] = []
  some.forEach((p, n) =>
    corners.push(
      `${at(p.time)},${y.value(p.reduced_high!)}`,
      `${n + 1 < some.length ? at(some[n + 1]!.time) : RIGHT - 10},${y.value(p.reduced_high!)}`,
    ),
  )
  ;[...some].reverse().forEach((p, n) => {
    const later = some[some.length - n]
    corners.push(
      `${later ? at(later.time) : RIGHT - 10},${y.value(p.reduced_low!)} ${at(p.time)},${y.value(p.reduced_low!)}`,
    )
  })
  return corners.join(' ')
})
/** Bodies as bands, where they fall inside what is drawn. */
const bands = computed(() =>
  props.zones
    .map((zone) => ({
      name: zone.body,
      top: y.value(Math.max(zone.reduced_from, zone.reduced_to)),
      bottom: y.value(Math.min(zone.reduced_from, zone.reduced_to)),
    }))
    .filter((b) => b.bottom - b.top > 2),
)
const seenAt = computed(() =>
  Object.fromEntries(props.zones.map((zone) => [zone.body, (zone.reduced_from + zone.reduced_to) / 2])),
)
const ticks = computed(() => x.value.ticks(6))
const said = computed(() => {
  const minutes = spells.value.reduce((sum, s) => sum + s.minutes, 0)
  const last = read.value.at(-1)
  const spent = `${spells.value.length} spells at the muller, ${digits(minutes, 0)} minutes in all`
  const end = last ? `; at the end ${last.body}, ${grams(last.oil_g)} ${massUnit()} of oil` : ''
  return `${points.value.length} acts, ${spent}${end}`
})
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="group" aria-label="The session over its time">
    <svg :viewBox="`0 0 ${W} 306`" class="w-full min-w-[34rem]" role="img" :aria-label="said">
      <g v-for="(b, n) in bands" :key="b.name">
        <rect
          :x="LEFT"
          :y="b.top"
          :width="RIGHT - LEFT - 10"
          :height="b.bottom - b.top"
          :fill="b.name === 'tube' ? '#fff' : n % 2 ? '#e2e2e2' : '#d8d8d8'"
        />
        <text
          v-if="b.bottom - b.top > 11"
          :x="LEFT - 6"
          :y="(b.top + b.bottom) / 2 + 4"
          text-anchor="end"
          font-size="13"
          fill="#565656"
        >
          {{ b.name }}
        </text>
      </g>
      <polygon v-if="band" :points="band" fill="#1d545c" fill-opacity=".16" />
      <path
        :d="`M${LEFT} ${y(target)}H${RIGHT - 10}`"
        stroke="#1d545c"
        stroke-width="1.5"
        stroke-dasharray="5 3"
      />
      <path
        v-if="read.length"
        :d="steps((p) => y(p.reduced_pvc!))"
        fill="none"
        stroke="#171717"
        stroke-width="2.5"
      />
      <g v-for="p in points" :key="p.id">
        <template v-if="p.kind === 'look' && p.seen">
          <path
            :d="`M${at(p.time)} ${y(seenAt[p.seen]!) - 8}l7 8-7 8-7-8z`"
            :fill="colour"
            stroke="#fff"
            stroke-width="1.5"
          />
          <path
            v-if="p.reduced_pvc != null"
            :d="`M${at(p.time)} ${y(seenAt[p.seen]!)}V${y(p.reduced_pvc)}`"
            stroke="#171717"
            stroke-width=".8"
          />
        </template>
      </g>
      <text :x="LEFT - 6" :y="OIL.top + 10" text-anchor="end" font-size="13" fill="#565656">
        oil, {{ massUnit() }}
      </text>
      <text :x="LEFT - 6" :y="OIL.top + 27" text-anchor="end" font-size="14" class="figure">
        {{ grams(poured.domain()[1]!) }}
      </text>
      <path :d="`M${LEFT} ${OIL.bottom}H${RIGHT - 10}`" stroke="#8a8a8a" />
      <path
        v-if="points.length"
        :d="`${steps((p) => poured(p.oil_g), points)}V${OIL.bottom}H${at(points[0]!.time)}z`"
        fill="#9a9a9a"
      />
      <text :x="LEFT - 6" :y="SPELLS + 11" text-anchor="end" font-size="13" fill="#565656">muller</text>
      <g v-for="s in spells" :key="s.begun_at">
        <rect
          :x="at(s.from)"
          :y="SPELLS"
          :width="Math.max(2, at(s.to) - at(s.from))"
          height="14"
          fill="#171717"
        >
          <title>load {{ s.load }}, {{ digits(s.minutes, 1) }} min</title>
        </rect>
      </g>
      <g v-for="picture in story.pictures" :key="picture.id">
        <rect
          :x="at(Date.parse(picture.at)) - 5"
          :y="BODY.top - 12"
          width="10"
          height="8"
          fill="#fff"
          stroke="#171717"
          stroke-width="1.5"
        />
        <circle :cx="at(Date.parse(picture.at))" :cy="BODY.top - 8" r="2" fill="#171717" />
      </g>
      <g v-for="tick in ticks" :key="tick.getTime()">
        <path :d="`M${x(tick)} 280v5`" stroke="#171717" />
        <text :x="x(tick)" y="299" text-anchor="middle" font-size="13" class="figure" fill="#565656">
          {{ clock(tick.toISOString()) }}
        </text>
      </g>
    </svg>
    <p class="small quiet max-w-prose">
      Line and band: body by the figures as known then, with its 90 % range. Diamonds: what the eye said.
      Dashes: the target. Boxes above: pictures.
    </p>
  </div>
</template>
