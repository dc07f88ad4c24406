<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'

import { api, type Day, type LanesAnswer, type Problem, type WeekAnswer } from '@/api/client'
import { told } from '@/ask/told'
import { night } from '@/theme/theme'
import { clock } from '@/ui/format'

import { actionAt, drawStretch, joined, paletteOf, rowsOf, stepFrom, stretchAt } from './lanes'

/** A lane per host for the chosen day; only the visible ones are drawn. */
const props = defineProps<{
  week: WeekAnswer
  day: Day
  width: number
  left: number
  right: number
  /** Whether the week is one whose lanes are kept: not a preview, nor about to be replaced. */
  kept: boolean
}>()
const emit = defineEmits<{ forgotten: [] }>()

const GAP = 1
const answer = shallowRef<LanesAnswer | null>(null)
const problem = shallowRef<Problem | null>(null)
const scroller = ref<HTMLElement>()
const canvas = ref<HTMLCanvasElement>()
const cursor = ref<{ row: number; time: number } | null>(null)
const visible = ref(0)
/** The day's edges as numbers: they stay the same while weeks come and go. */
const begins = computed(() => props.day.start)
const ends = computed(() => props.day.end)
const rows = computed(() => (answer.value ? rowsOf(answer.value, until.value ?? ends.value) : []))
/** Lanes grow where there are few of them and never shrink below what can be told apart. */
const lane = computed(() =>
  Math.max(9, Math.min(18, Math.floor(visible.value / Math.max(rows.value.length, 1)) - GAP)),
)
const plot = computed(() => Math.max(props.width - props.left - props.right, 50))

let asked = 0
/** Two frames later: the water above is drawn first. */
const afterPicture = () =>
  new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))
async function fetchLanes(from: number, before: LanesAnswer | null): Promise<void> {
  const mine = ++asked
  await afterPicture()
  if (mine !== asked) return
  const found = await told(
    api.GET('/api/simulations/{input_hash}/lanes', {
      params: {
        path: { input_hash: props.week.input_hash },
        query: { start: from, end: props.day.end },
      },
    }),
  )
  if (mine !== asked) return
  if (found.data) answer.value = before ? joined(before, found.data) : found.data
  else if (found.problem.status === 404) emit('forgotten')
  problem.value = found.problem?.status === 404 ? null : found.problem
}
function fetchDay(): void {
  if (props.kept) void fetchLanes(props.day.start, null)
}
/** Until when the lanes are drawn where one answer did not hold the day; else nothing. */
const until = computed(() => {
  const at = answer.value?.until ?? ends.value
  return at < ends.value && at > begins.value ? at : null
})
watch([() => props.week, () => props.day.start, () => props.kept], fetchDay, {
  immediate: true,
})

const xOf = (time: number) =>
  ((time - props.day.start) / (props.day.end - props.day.start)) * plot.value

function draw(): void {
  const element = canvas.value
  const frame = scroller.value
  if (!element || !frame) return
  const height = frame.clientHeight
  const ratio = devicePixelRatio || 1
  element.width = Math.round(plot.value * ratio)
  element.height = Math.round(height * ratio)
  const context = element.getContext('2d')
  if (!context) return
  context.scale(ratio, ratio)
  const colours = paletteOf(element)
  const first = Math.floor(frame.scrollTop / (lane.value + GAP))
  const last = Math.min(rows.value.length, first + Math.ceil(height / (lane.value + GAP)) + 1)
  for (let k = first; k < last; k += 1) {
    const y = k * (lane.value + GAP) - frame.scrollTop
    for (const stretch of rows.value[k]?.stretches ?? []) {
      const x = xOf(stretch.time)
      const box = { x, y, width: Math.max(xOf(stretch.end) - x, 0.75), height: lane.value }
      drawStretch(context, stretch, box, props.week.session_limit, colours)
    }
  }
  if (cursor.value) {
    const y = cursor.value.row * (lane.value + GAP) - frame.scrollTop
    context.strokeStyle = colours.ink
    context.lineWidth = 2
    context.strokeRect(xOf(cursor.value.time) - 3, y - 1, 6, lane.value + 2)
  }
}
watch([rows, plot, cursor, night, lane, visible], draw, { flush: 'post' })
const sizes = new ResizeObserver(([entry]) => (visible.value = entry?.contentRect.height ?? 0))
onMounted(() => {
  if (scroller.value) sizes.observe(scroller.value)
  draw()
})
onBeforeUnmount(() => sizes.disconnect())

function hover(event: PointerEvent): void {
  const frame = scroller.value
  if (!frame) return
  const box = frame.getBoundingClientRect()
  const row = Math.floor((event.clientY - box.top + frame.scrollTop) / (lane.value + GAP))
  const part = (event.clientX - box.left - props.left) / plot.value
  if (row < 0 || row >= rows.value.length || part < 0 || part > 1) cursor.value = null
  else {
    const time = props.day.start + part * (props.day.end - props.day.start)
    cursor.value = { row, time: Math.round(time) }
  }
}

function key(event: KeyboardEvent): void {
  if (!rows.value.length) return
  const now = cursor.value ?? { row: 0, time: props.day.start }
  const row = rows.value[now.row]
  if (event.key === 'ArrowDown') now.row = Math.min(now.row + 1, rows.value.length - 1)
  else if (event.key === 'ArrowUp') now.row = Math.max(now.row - 1, 0)
  else if (event.key === 'ArrowRight' && row) now.time = stepFrom(row, now.time, 1)
  else if (event.key === 'ArrowLeft' && row) now.time = stepFrom(row, now.time, -1)
  else if (event.key === 'Home') now.time = props.day.start
  else return
  event.preventDefault()
  cursor.value = { ...now }
  const frame = scroller.value
  if (!frame) return
  const y = now.row * (lane.value + GAP)
  if (y < frame.scrollTop) frame.scrollTop = y
  else if (y + lane.value > frame.scrollTop + frame.clientHeight)
    frame.scrollTop = y + lane.value - frame.clientHeight
}

/** States that only some pools know are explained where they occur. */
const rarer = computed(() => {
  const seen = new Set(rows.value.flatMap((row) => row.stretches.map((s) => s.state)))
  return ['creating', 'resetting', 'queued', 'failed'].filter((name) => seen.has(name))
})
const cursorText = computed(() => {
  if (!cursor.value) return ''
  const row = rows.value[cursor.value.row]
  const stretch = row && stretchAt(row, cursor.value.time)
  if (!row || !stretch) return ''
  const at = clock(cursor.value.time, props.week.zone)
  const what = ['off', 'absent', 'creating', 'queued', 'failed'].includes(stretch.state)
    ? stretch.state
    : `${stretch.state}, ${stretch.sessions} of ${props.week.session_limit} sessions` +
      (stretch.strained ? ', strained' : '')
  const action = actionAt(answer.value?.actions ?? [], row.host, cursor.value.time)
  const why = action
    ? `; ${action.action} at ${clock(action.time, props.week.zone)}: ${action.text}`
    : ''
  return `Host ${row.host + 1} at ${at}: ${what}${why}`
})
</script>

<template>
  <section class="lanes" aria-label="Host lanes">
    <header>
      <h3>Hosts</h3>
      <p class="told" data-testid="lane-told" aria-live="polite">
        {{ cursorText || 'Point at a lane, or focus the lanes and use the arrow keys.' }}
      </p>
      <p v-if="problem" class="told" role="status">
        The lanes cannot be drawn: {{ problem.title }}.
        <button class="link" @click="fetchDay">Try again</button>
      </p>
      <p v-if="until" class="told" role="status">
        Drawn up to {{ clock(until, week.zone) }}: more happens than one picture holds.
        <button class="link" @click="fetchLanes(until, answer)">Draw on</button>
      </p>
      <p class="legend" aria-hidden="true">
        <span class="key starting"></span>starting <span class="key empty"></span>ready, empty
        <span class="key full"></span>in use <span class="key draining"></span>draining
        <span class="key strained"></span>strained
        <template v-for="name in rarer" :key="name"
          ><span class="key" :class="name"></span>{{ name }}
        </template>
      </p>
    </header>
    <div
      ref="scroller"
      class="scroller"
      tabindex="0"
      role="application"
      aria-label="Host lanes: up and down choose a host, left and right go from change to change"
      data-testid="lanes"
      @scroll="draw"
      @pointermove="hover"
      @pointerleave="cursor = null"
      @keydown="key"
    >
      <div class="room" :style="{ height: `${rows.length * (lane + GAP)}px` }">
        <canvas
          ref="canvas"
          :style="{ marginLeft: `${left}px`, width: `${plot}px`, height: `${visible}px` }"
          aria-hidden="true"
        ></canvas>
      </div>
    </div>
  </section>
</template>

<style scoped>
.lanes {
  display: flex;
  flex-direction: column;
  min-height: 0;
  flex: 1;
}
header {
  display: flex;
  align-items: baseline;
  gap: 12px;
  padding: 6px 16px 4px;
}
h3 {
  font-size: 13px;
  font-weight: 650;
}
.told {
  flex: 1;
  font-size: 12.5px;
  color: var(--ink-quiet);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.legend {
  font-size: 12px;
  color: var(--ink-quiet);
  white-space: nowrap;
}
.key {
  display: inline-block;
  width: 14px;
  height: 9px;
  margin: 0 4px 0 8px;
  background: var(--brass-wash);
  border: 1px solid var(--hair-strong);
}
.key.starting {
  background: repeating-linear-gradient(135deg, var(--ink) 0 1px, var(--brass-wash) 1px 4px);
}
.key.full {
  background: var(--water-1);
}
.key.draining {
  background: repeating-linear-gradient(0deg, var(--brass-line) 0 1px, var(--water-2) 1px 3px);
}
.key.creating,
.key.queued {
  background: repeating-linear-gradient(135deg, var(--hair-strong) 0 1px, transparent 1px 5px);
}
.key.resetting {
  background: repeating-linear-gradient(0deg, var(--water-1) 0 1px, var(--brass-wash) 1px 3px);
}
.key.failed {
  background: repeating-linear-gradient(135deg, var(--buoy) 0 1px, transparent 1px 4px);
}
.key.strained {
  background: var(--water-1);
  border-bottom: 3px solid var(--buoy);
}
.scroller {
  flex: 1;
  min-height: 110px;
  overflow-y: auto;
  overflow-x: hidden;
  border-top: 1px solid var(--hair);
}
.room {
  position: relative;
  min-height: 100%;
}
canvas {
  position: sticky;
  top: 0;
  display: block;
}
</style>
