<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'

/** Saving makes a revision with a line of words. */
const open = defineModel<boolean>({ required: true })
defineProps<{ saving: boolean; next: number }>()
const emit = defineEmits<{ save: [words: string] }>()

const words = ref('')
const field = ref<{ focus: () => void }>()
watch(
  open,
  async (now) => {
    if (!now) return
    words.value = ''
    await nextTick()
    field.value?.focus()
  },
  { immediate: true },
)
</script>

<template>
  <ElDialog
    v-model="open"
    :title="`Save as revision ${next}`"
    width="460px"
    align-center
    @opened="field?.focus()"
  >
    <form @submit.prevent="emit('save', words)">
      <label for="words">What changed, in a line of words</label>
      <input
        id="words"
        ref="field"
        class="text-box"
        v-model="words"
        maxlength="200"
        placeholder="hosts ready before people come"
        data-testid="words"
      />
    </form>
    <template #footer>
      <ElButton @click="open = false">Not yet</ElButton>
      <ElButton
        type="primary"
        :loading="saving"
        data-testid="save-now"
        @click="emit('save', words)"
      >
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
input {
  width: 100%;
}
</style>
