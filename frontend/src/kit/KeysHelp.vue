<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { keysOpen, lettersAct } from './keys'
</script>

<template>
  <Dialog :open="keysOpen.help" class="relative z-50" @close="keysOpen.help = false">
    <div class="fixed inset-0 bg-ink/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="max-h-[85vh] w-full max-w-lg overflow-auto border-2 border-ink bg-sheet p-6">
        <DialogTitle as="h2" class="mb-3 text-xl">Keys of this screen</DialogTitle>
        <dl class="grid grid-cols-[auto_1fr] items-baseline gap-x-5 gap-y-2">
          <template v-for="(layer, n) in keysOpen.layers" :key="n">
            <template v-for="key in layer" :key="key.key">
              <dt>
                <kbd class="keycap text-base">{{ key.key === ' ' ? 'space' : key.key }}</kbd>
              </dt>
              <dd>{{ key.does }}</dd>
            </template>
          </template>
          <dt><kbd class="keycap text-base">?</kbd></dt>
          <dd>show or hide these keys</dd>
          <dt><kbd class="keycap text-base">Esc</kbd></dt>
          <dd>close what is open</dd>
        </dl>
        <label class="mt-5 flex min-h-12 items-center gap-3"
          ><input v-model="lettersAct" type="checkbox" class="h-6 w-6" />Letters, figures and space act on
          this device</label
        >
        <p v-if="!lettersAct" class="small quiet">
          Off: only Enter and Escape act; Enter never while a button has the focus.
        </p>
        <button class="btn mt-3" type="button" @click="keysOpen.help = false">Close</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
