<script setup lang="ts">

import { ref, watch } from 'vue'

/** Saving makes a revision with a line of words. */
const open = defineModel<boolean>({ required: true })
defineProps<{ saving: boolean; next: number }>()
const emit = defineEmits<{ save: [words: string] }>()

const words = ref('')
watch(open, (now) => {
  if (now) words.value = ''
})
</script>

<template>
  <ElDialog v-model="open" :title="`Save as revision ${next}`" width="460px" align-center>
    <form @submit.prevent="emit('save', words)">
      <label for="words">What changed, in a line of words</label>
      <ElInput
        id="words"
        v-model="words"
        autofocus
        maxlength="200"
        placeholder="hosts ready before people come"
        data-testid="words"
      />
    </form>
    <template #footer>
      <ElButton @click="open = false">Not yet</ElButton>
      <ElButton type="primary" :loading="saving" data-testid="save-now" @click="emit('save', words)">
        Save
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
label {
  display: block;
  margin-bottom: 6px;
}
</style>
