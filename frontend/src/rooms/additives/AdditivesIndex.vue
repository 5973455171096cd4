<script setup lang="ts">
/** What can be stirred in, the gels that are ready, and the ladders. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api } from '@/api/client'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { BASIS_OF, MOMENTS, pct, useChoices } from './choices'
import Term from '@/kit/Term.vue'

const router = useRouter()
const queries = useQueryClient()
const { data: choices } = useChoices()
const { data: ladders } = useQuery({
  queryKey: ['ladders'],
  queryFn: () => answered(api.GET('/api/additives/ladders')),
})
const gels = computed(() => (choices.value ?? []).flatMap((c) => c.forms.filter((f) => f.strength != null)))
const SCHOOLS = [
  ['traditional', 'Traditional'],
  ['modern', 'Modern'],
] as const
async function retire(id: number): Promise<void> {
  await answered(api.DELETE('/api/additives/ladders/{ladder_id}', { params: { path: { ladder_id: id } } }))
  void queries.invalidateQueries({ queryKey: ['ladders'] })
  void queries.invalidateQueries({ queryKey: ['additives'] })
}
useKeys(() => [
  { key: 'b', does: 'body by intent', act: () => void router.push('/additives/body') },
  { key: 'l', does: 'a new ladder', act: () => void router.push('/additives/ladders/new') },
  { key: 'g', does: 'make a gel', act: () => void router.push('/additives/gel') },
])
</script>

<template>
  <div class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Additives<span class="quiet block text-base font-normal"
          >each shortens, <Term of="stabiliser">stabilises</Term>, stretches, hastens or delays, at a
          price</span
        >
      </h1>
      <RouterLink class="btn btn-main btn-slab px-6" to="/additives/body">Body by intent</RouterLink>
      <RouterLink class="btn btn-slab px-6" to="/additives/ladders/new">New ladder</RouterLink>
      <RouterLink class="btn btn-slab px-6" to="/additives/gel">Make a gel</RouterLink>
    </div>
    <div class="grid gap-x-12 gap-y-7 lg:grid-cols-[1.35fr_1fr]">
      <section
        v-for="[school, name] in SCHOOLS"
        :key="school"
        class="lg:col-start-1"
        :aria-labelledby="school"
      >
        <h2 :id="school" class="mb-1 text-lg">{{ name }}</h2>
        <ul>
          <li
            v-for="c in (choices ?? []).filter((choice) => choice.additive.school === school)"
            :key="c.additive.key"
            class="hairline grid grid-cols-[1fr_auto] gap-x-4 py-2"
          >
            <span class="font-semibold"
              >{{ c.additive.name }}
              <span class="quiet font-normal">{{ c.additive.kind }}, {{ MOMENTS[c.moment] }}</span></span
            >
            <span class="text-right"
              ><span class="figure font-semibold"
                >{{ c.additive.dose_low_pct }} to {{ c.additive.dose_high_pct }} %</span
              >{{ ' '
              }}<span class="quiet small"
                >{{ BASIS_OF[c.additive.dose_basis] }}, at most {{ c.additive.dose_ceiling_pct }} %</span
              ></span
            >
            <span class="small col-span-2"
              >{{ c.additive.note }}
              <span class="quiet"
                >{{ c.additive.preparation.charAt(0).toUpperCase() + c.additive.preparation.slice(1) }}.</span
              >{{ ' '
              }}<strong v-if="c.keeps_days" class="text-stop"
                >Paint with it keeps {{ c.keeps_days }} days, cold and closed.</strong
              ></span
            >
            <span v-if="c.known" class="small col-span-2 border-l-4 border-act pl-2"
              >Your ladder
              <RouterLink class="underline" :to="`/additives/ladders/${c.known.ladder_id}`">{{
                c.known.ladder_name
              }}</RouterLink>:
              {{
                c.known.least_dose_pct
                  ? `${pct(c.known.least_dose_pct)} did it`
                  : c.known.none_does
                    ? 'no dose did it'
                    : 'no answer yet'
              }}<template v-if="c.known.stiffening_per_pct != null"
                >; ln stress <span class="figure">{{ digits(c.known.stiffening_per_pct, 2) }}</span> for each
                % (library {{ digits(c.additive.stiffening_per_pct, 2) }})</template
              ></span
            >
          </li>
        </ul>
      </section>
      <div class="space-y-7 lg:col-start-2 lg:row-span-2 lg:row-start-1">
        <section aria-labelledby="ladders">
          <h2 id="ladders" class="mb-1 text-lg">Ladders</h2>
          <p v-if="!ladders?.length" class="quiet">
            None yet. A ladder finds the least dose that does what you want, with your own pigment.
          </p>
          <ul>
            <li v-for="l in ladders ?? []" :key="l.id" class="hairline flex items-center gap-3 py-1">
              <RouterLink
                class="flex min-h-14 min-w-0 flex-1 flex-col justify-center"
                :to="`/additives/ladders/${l.id}`"
                ><span class="font-semibold underline underline-offset-4">{{ l.name }}</span
                ><span class="small"
                  ><strong v-if="l.waits">{{ l.waits }}. </strong>{{ l.says }}
                  <span class="quiet">{{ l.parts.join(' with ') }}, {{ day(l.made_at) }}</span></span
                ></RouterLink
              >
              <button
                type="button"
                class="btn btn-quiet small"
                :aria-label="`Put ladder ${l.name} away`"
                @click="retire(l.id)"
              >
                put away
              </button>
            </li>
          </ul>
        </section>
        <section aria-labelledby="gels">
          <h2 id="gels" class="mb-1 text-lg">Gels ready to use</h2>
          <p v-if="!gels.length" class="quiet">
            None. Stearate, castor wax and beeswax are worked into warm oil beforehand and weighed as gel.
          </p>
          <ul>
            <li
              v-for="g in gels"
              :key="g.lot_id"
              class="hairline flex items-baseline justify-between gap-3 py-2"
            >
              <RouterLink class="underline underline-offset-4" :to="`/stock/${g.lot_id}`"
                >{{ g.name }}, {{ g.code }}</RouterLink
              >
              <span
                ><span class="figure">{{ digits(g.on_hand_g, 0) }}</span> g<template v-if="g.use_by"
                  >, <strong v-if="g.past" class="text-stop">past its use-by, {{ day(g.use_by) }}</strong
                  ><span v-else class="quiet">use by {{ day(g.use_by) }}</span></template
                ></span
              >
            </li>
          </ul>
        </section>
        <p class="small quiet">
          Doses and stiffening are approximate general figures until a ladder of your own says otherwise.
        </p>
      </div>
    </div>
  </div>
</template>
