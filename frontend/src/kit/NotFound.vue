<template>
  <section class="py-16">
    <h1>Nothing stands at this address.</h1>
    <p class="mt-3">
      <RouterLink class="underline" to="/">Back to the bench</RouterLink>
    </p>
  </section>
</template>
