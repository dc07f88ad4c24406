<script setup lang="ts">
import { onMounted } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

/** An address that leads nowhere says so, and what to do. */
const route = useRoute()
onMounted(() => (document.title = 'Nothing here – Idle Harbor'))
</script>

<template>
  <main class="nowhere" data-testid="nowhere">
    <h1>There is nothing at this address</h1>
    <p>
      <code>{{ route.fullPath }}</code> names no view of Idle Harbor. It may be mistyped or cut off.
    </p>
    <p><RouterLink to="/">All plans</RouterLink></p>
  </main>
</template>

<style scoped>
.nowhere {
  max-width: 720px;
  margin: 64px auto;
  padding: 0 24px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
h1 {
  font-size: 20px;
  margin: 0;
}
code {
  font-family: var(--mono);
  overflow-wrap: anywhere;
}
</style>
