<script setup lang="ts">
/** Our sign: a sheet with a folded corner. It stands in the page, so that nothing has to be fetched for it. */
defineProps<{ height: number }>()
</script>

<template>
  <svg viewBox="0 0 22 26" :height="height" aria-hidden="true">
    <path d="M2 1h13l5 5v19H2z" fill="#F6F1E6" stroke="#1B2431" />
    <path d="M15 1l5 5h-5z" fill="#B9AE98" />
    <path d="M5.5 12h11M5.5 16h7.5M5.5 20h4.5" stroke="#1B2431" stroke-width="1.7" />
  </svg>
</template>
