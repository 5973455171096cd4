<script setup lang="ts">
/** How this studio works: its measures, slab and tool, target, units. */
import type { Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import StudioMark from './StudioMark.vue'

defineProps<{ workshop: Schemas['Workshop']; said: (field: string) => string | undefined }>()
const settings = defineModel<Schemas['SettingsAsked']>('settings', { required: true })
const emit = defineEmits<{ keep: [] }>()
</script>

<template>
  <form class="grid grid-cols-2 gap-3" @submit.prevent="emit('keep')">
    <label class="col-span-2"
      ><span class="label">Name of the studio</span
      ><input v-model="settings.name" class="field" maxlength="80"
    /></label>
    <StudioMark class="col-span-2" :there="workshop.has_mark" />
    <label class="col-span-2 flex min-h-12 items-center gap-3"
      ><input
        v-model="settings.initials_on_labels"
        type="checkbox"
        class="h-7 w-7 shrink-0 accent-act"
      />Initials of the maker on labels, where makers sign in</label
    >
    <label
      ><span class="label">Spoon set</span
      ><select v-model="settings.spoon_set" class="field">
        <option value="metric">metric, teaspoon 5 ml</option>
        <option value="us">US, teaspoon 4.93 ml</option>
      </select></label
    >
    <label
      ><span class="label">We measure with</span
      ><select v-model="settings.measuring" class="field">
        <option value="scale">a scale</option>
        <option value="spoons">spoons and drops</option>
        <option value="eye">the eye</option>
      </select></label
    >
    <label
      ><span class="label">A little oil is dosed by</span
      ><select v-model="settings.small" class="field">
        <option value="drops">drops</option>
        <option value="ml">pipette or syringe, ml</option>
      </select></label
    >
    <label
      ><span class="label">Usually worked with</span
      ><select v-model="settings.tool" class="field">
        <option value="muller">a muller</option>
        <option value="knife">the knife only</option>
        <option value="jar">a jar or bottle bottom</option>
        <option value="glass">a flat-bottomed glass</option>
      </select></label
    >
    <NumberField
      v-model="settings.default_reduced_pvc"
      label="Usual target, reduced PVC"
      :refusal="said('default_reduced_pvc')"
      accepted="0.5 to 1.15"
    />
    <label
      ><span class="label">Usual slab</span
      ><select v-model="settings.default_slab_id" class="field">
        <option :value="null">none</option>
        <option v-for="slab in workshop.slabs" :key="slab.id" :value="slab.id">{{ slab.name }}</option>
      </select></label
    >
    <label
      ><span class="label">Usual muller</span
      ><select v-model="settings.default_muller_id" class="field">
        <option :value="null">none, knife only</option>
        <option v-for="muller in workshop.mullers" :key="muller.id" :value="muller.id">
          {{ muller.name }}
        </option>
      </select></label
    >
    <label
      ><span class="label">Masses shown in</span
      ><select v-model="settings.mass_unit" class="field">
        <option value="g">grams</option>
        <option value="oz">ounces</option>
      </select></label
    >
    <label
      ><span class="label">Currency, three letters</span
      ><input
        v-model="settings.currency"
        class="field"
        maxlength="3"
        :aria-invalid="said('currency') ? 'true' : undefined"
      /><span v-if="said('currency')" class="refusal" role="alert">{{ said('currency') }}</span></label
    >
    <div class="col-span-2"><button class="btn btn-main">Keep the settings</button></div>
  </form>
</template>
