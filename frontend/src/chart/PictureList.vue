<script setup lang="ts">
import { onMounted, ref } from 'vue'

/** The list of what can be taken away of a picture: it opens as soon as it is there. */
defineProps<{ name: string }>()
const emit = defineEmits<{ take: [what: string] }>()
const list = ref<{ handleOpen: () => void }>()
onMounted(() => list.value?.handleOpen())
</script>

<template>
  <ElDropdown ref="list" trigger="click" placement="top-end" @command="emit('take', $event)">
    <button class="plain away" :aria-label="`Take the picture away: ${name}`" title="Save or copy">
      ⤓
    </button>
    <template #dropdown>
      <ElDropdownMenu>
        <ElDropdownItem command="svg">Save as SVG</ElDropdownItem>
        <ElDropdownItem command="png">Save as PNG</ElDropdownItem>
        <ElDropdownItem command="csv">Copy its figures as CSV</ElDropdownItem>
      </ElDropdownMenu>
    </template>
  </ElDropdown>
</template>
