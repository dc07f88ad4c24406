<script setup lang="ts">
import { computed } from 'vue'

import type { ImportModel } from '@/api/client'
import { count } from '@/ui/format'

/** An import: how far it is, what it would change, which rows are wrong and why. */
const props = defineProps<{ latest: ImportModel; working: boolean }>()
const emit = defineEmits<{ decide: [what: 'apply' | 'drop'] }>()

const KINDS = [
  { key: 'added', title: 'added' },
  { key: 'changed', title: 'changed' },
  { key: 'dropped', title: 'dropped' },
] as const
const preview = computed(() => props.latest.preview)
const nothing = computed(() => {
  const p = preview.value
  return !!p && !p.groups.length && p.people.added + p.people.changed + p.people.dropped === 0
})
const said = computed(() => {
  const { latest } = props
  const rows = `${count(latest.rows_read)} rows`
  switch (latest.state) {
    case 'reading':
      return latest.bytes_total
        ? `Reading ${latest.source}: ${rows}, ${count((latest.bytes_read / latest.bytes_total) * 100)} %`
        : `Reading ${latest.source}: ${rows}`
    case 'judging':
      return `Comparing ${rows} of ${latest.source} with the directory …`
    case 'applying':
      return `Putting ${latest.source} in the directory's place …`
    case 'applied':
      return `${latest.source} is the directory now.`
    case 'failed':
      return `${latest.source} was not taken: ${latest.problem}. The directory is as it was.`
    case 'dropped':
      return `${latest.source} was let go. The directory is as it was.`
    default:
      return ''
  }
})
</script>

<template>
  <div class="import" :class="latest.state" data-testid="import" :data-state="latest.state">
    <p v-if="said" role="status">
      {{ said }}
      <button
        v-if="latest.state === 'reading'"
        class="link"
        data-testid="import-stop"
        @click="emit('decide', 'drop')"
      >
        Stop
      </button>
    </p>
    <template v-if="preview && (latest.state === 'ready' || latest.state === 'wrong')">
      <h3>
        {{ latest.source }}:
        <template v-if="latest.state === 'wrong'">
          {{ count(preview.wrong) }}{{ preview.wrong >= 1000 ? ' or more' : '' }} rows are wrong, so
          nothing of it can be taken
        </template>
        <template v-else-if="nothing">the directory is like this already</template>
        <template v-else>this would change</template>
      </h3>
      <ul v-if="preview.faults.length" class="faults">
        <li v-for="(fault, k) in preview.faults.slice(0, 12)" :key="k">
          <b>line {{ count(fault.line) }}</b
          >: {{ fault.what }}; {{ fault.mend }}
        </li>
        <li v-if="preview.wrong > 12">and {{ count(preview.wrong - 12) }} more</li>
      </ul>
      <div v-if="!nothing && latest.state === 'ready'" class="kinds">
        <details v-for="kind in KINDS" :key="kind.key" :open="preview.people[kind.key] < 6">
          <summary>
            <b>{{ count(preview.people[kind.key]) }}</b> people {{ kind.title }}
          </summary>
          <p v-for="row in preview[kind.key]" :key="row.key">
            <code>{{ row.key }}</code> {{ row.now || row.before
            }}<span v-if="row.now && row.before" class="quiet"> (was {{ row.before }})</span>
          </p>
          <p v-if="preview.people[kind.key] > preview[kind.key].length" class="quiet">
            and {{ count(preview.people[kind.key] - preview[kind.key].length) }} more
          </p>
        </details>
        <details :open="preview.groups.length < 10">
          <summary>
            <b>{{ count(preview.groups.length) }}</b> groups change
          </summary>
          <p v-for="group in preview.groups" :key="group.key">
            {{ group.key }}{{ group.what === 'kept' ? '' : ` (${group.what})` }}: +{{
              count(group.joining)
            }}
            −{{ count(group.leaving) }}
          </p>
        </details>
      </div>
      <p>
        <ElButton
          v-if="latest.state === 'ready' && !nothing"
          type="primary"
          size="small"
          data-testid="import-apply"
          @click="emit('decide', 'apply')"
        >
          Take all of it
        </ElButton>
        <button class="link" data-testid="import-drop" @click="emit('decide', 'drop')">
          Let it go
        </button>
      </p>
    </template>
  </div>
</template>

<style scoped>
.import {
  border-left: 3px solid var(--brass-line);
  padding: 2px 10px;
  margin: 6px 0;
}
.import.failed,
.import.wrong {
  border-color: var(--buoy);
}
.faults {
  margin: 2px 0;
  padding-left: 18px;
}
.kinds {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 12px;
}
summary {
  cursor: pointer;
}
.kinds p {
  font-size: 12.5px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
code {
  font-family: var(--mono);
  font-size: 11.5px;
}
</style>
