<script setup lang="ts">
/** What stands around a page for whoever has not signed in. */
</script>

<template>
  <div
    class="flex min-h-11 items-center bg-pine px-5 text-lg font-extrabold tracking-tight text-white [font-stretch:112%]"
  >
    Yenvo
  </div>
  <div class="mx-auto w-full max-w-4xl p-4 pt-10 sm:p-5 md:pt-20"><slot /></div>
</template>
