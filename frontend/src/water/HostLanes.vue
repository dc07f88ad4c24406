<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'

import type { Day, LanesAnswer, WeekAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import type { Reply } from '@/ask/told'
import AcrossAxis from '@/chart/AcrossAxis.vue'
import { timeTicks } from '@/chart/axis'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import { useCursor } from '@/chart/cursor'
import type { Pen } from '@/chart/pen'
import PictureMenu from '@/chart/PictureMenu.vue'
import { useSpan } from '@/chart/span'
import { useTimeframe } from '@/chart/timeframe'
import { clock } from '@/ui/format'

import { lanesOf, type Shown } from './kept'
import { actionAt, drawLanes, joined, rowsOf, stepFrom, stretchAt, tableOf } from './lanes'

/** A lane per host for the chosen day; only the visible ones are drawn. */
const props = defineProps<{
  week: WeekAnswer
  day: Day
  width: number
  left: number
  right: number
  /** Whether the week is one whose lanes can be asked for: not a preview, nor about to be replaced. */
  kept: boolean
  /** What the week was simulated of. */
  of: Shown['of']
}>()
const GAP = 1
const AXIS = 20
/** Two frames later: the water above is drawn first. */
const afterPicture = () =>
  new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))

interface Wish extends Shown {
  start: number
  end: number
  /** What is there up to the start; with it the answer is the whole again. */
  before: LanesAnswer | null
}
const lanes = useQuestion<Wish, LanesAnswer>(
  async ({ hash, of, start, end, before }, call): Promise<Reply<LanesAnswer>> => {
    await afterPicture()
    const found = await lanesOf({ hash, of }, { start, end }, call)
    return before && found.data ? { ...found, data: joined(before, found.data) } : found
  },
  {
    key: (wish) => keyOf(wish.hash, wish.start, wish.end),
    about: ({ of, end }) => `${of.pool} ${of.first} ${end}`,
    urgent: () => true,
  },
)
const answer = computed(() => lanes.answer.value)
const begins = computed(() => props.day.start)
const ends = computed(() => props.day.end)
watch(
  [() => props.week.input_hash, begins, () => props.kept],
  () => {
    if (!props.kept) return
    const { week, of } = props
    lanes.ask({ hash: week.input_hash, of, start: begins.value, end: ends.value, before: null })
  },
  { immediate: true },
)
function drawOn(): void {
  if (!answer.value || !until.value) return
  const { input_hash: hash } = props.week
  const { of } = props
  lanes.ask({ hash, of, start: until.value, end: ends.value, before: answer.value })
}

/** Until when the lanes are drawn where one answer did not hold the day; else nothing. */
const until = computed(() => {
  const at = answer.value?.until ?? ends.value
  return at < ends.value && at > begins.value ? at : null
})
const rows = computed(() => (answer.value ? rowsOf(answer.value, until.value ?? ends.value) : []))

const scroller = ref<HTMLElement>()
const visible = ref(0)
const scrolled = ref(0)
const plot = computed(() => Math.max(props.width - props.left - props.right, 50))
/** Lanes grow where there are few of them and never shrink below what can be told apart. */
const lane = computed(() =>
  Math.max(9, Math.min(18, Math.floor(visible.value / Math.max(rows.value.length, 1)) - GAP)),
)
const pitch = computed(() => lane.value + GAP)

const picture = ref<InstanceType<typeof ChartPicture>>()
const frame = useTimeframe(begins, ends)
const { view, partly, zoom } = frame
const span = useSpan(frame, plot, (event) => picture.value?.pointAt(event).x ?? 0)
const { timeOf, xOf } = span
const ticks = computed(() =>
  timeTicks(view.value.from, view.value.to, props.week.zone, plot.value),
)

/** A number, so that another week with the same limit does not draw the same lanes again. */
const limit = computed(() => props.week.session_limit)
const draw = computed(() => {
  const [all, full, seen] = [rows.value, limit.value, view.value]
  const top = scrolled.value
  const room = { width: plot.value, top, bottom: top + visible.value, lane: lane.value }
  return (pen: Pen) => drawLanes(pen, all, seen, full, { ...room, pitch: pitch.value })
})

interface Place {
  row: number
  time: number
}
const {
  at: pointed,
  move,
  leave,
} = useCursor<Place>((event) => {
  const at = picture.value?.pointAt(event)
  if (!at || at.x < 0 || at.x > plot.value) return null
  const row = Math.floor((at.y + scrolled.value) / pitch.value)
  return row >= 0 && row < rows.value.length ? { row, time: Math.round(timeOf(at.x)) } : null
})
const stepped = shallowRef<Place | null>(null)
watch([pointed, begins], () => (stepped.value = null))
const cursor = computed(() => stepped.value ?? pointed.value)
// The pictures above show the same instant.
watch(cursor, (now) => (frame.cursor.value = now?.time ?? null))

function key(event: KeyboardEvent): void {
  if (!rows.value.length) return
  const now = { ...(cursor.value ?? { row: 0, time: view.value.from }) }
  const row = rows.value[now.row]
  if (event.key === '+' || event.key === '=') zoom(1 / 1.5, cursor.value?.time)
  else if (event.key === '-') zoom(1.5, cursor.value?.time)
  else {
    if (event.key === 'ArrowDown') now.row = Math.min(now.row + 1, rows.value.length - 1)
    else if (event.key === 'ArrowUp') now.row = Math.max(now.row - 1, 0)
    else if (event.key === 'ArrowRight' && row) now.time = stepFrom(row, now.time, 1)
    else if (event.key === 'ArrowLeft' && row) now.time = stepFrom(row, now.time, -1)
    else if (event.key === 'Home') now.time = begins.value
    else return
    stepped.value = now
    show(now)
  }
  event.preventDefault()
}
/** Bring a place into sight. */
function show({ row, time }: Place): void {
  const room = scroller.value
  if (!room) return
  const y = row * pitch.value
  if (y < room.scrollTop) room.scrollTop = y
  else if (y + lane.value > room.scrollTop + room.clientHeight)
    room.scrollTop = y + lane.value - room.clientHeight
  const { from, to } = view.value
  if (time < from || time > to) frame.pan(time - (from + to) / 2)
}

const sizes = new ResizeObserver(([entry]) => (visible.value = entry?.contentRect.height ?? 0))
onMounted(() => scroller.value && sizes.observe(scroller.value))
onBeforeUnmount(() => sizes.disconnect())

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
      <p v-if="lanes.problem.value" class="told" role="status">
        The lanes cannot be drawn: {{ lanes.problem.value.title }}.
        <button class="link" @click="lanes.again">Try again</button>
      </p>
      <p v-if="until" class="told" role="status">
        Drawn up to {{ clock(until, week.zone) }}: more happens than one picture holds.
        <button class="link" @click="drawOn">Draw on</button>
      </p>
      <p class="legend" aria-hidden="true">
        <span class="key starting"></span>starting <span class="key empty"></span>ready, empty
        <span class="key full"></span>in use <span class="key draining"></span>draining
        <span class="key strained"></span>strained
        <template v-for="name in rarer" :key="name"
          ><span class="key" :class="name"></span>{{ name }}
        </template>
      </p>
      <span class="tools">
        <button
          class="plain tool"
          aria-label="A longer stretch of the day"
          title="A longer stretch (−)"
          :disabled="!partly"
          @click="zoom(2)"
        >
          −
        </button>
        <button
          class="plain tool"
          aria-label="A shorter stretch of the day"
          title="A shorter stretch (+, or the wheel with Ctrl)"
          @click="zoom(0.5)"
        >
          +
        </button>
        <PictureMenu
          v-if="picture"
          :name="`hosts ${week.pool} ${day.date}`"
          :saved="picture.saved"
          :table="() => tableOf(rows, day.date, week.zone)"
        />
      </span>
    </header>
    <div
      ref="scroller"
      class="scroller"
      tabindex="0"
      role="application"
      aria-label="Host lanes: up and down choose a host, left and right go from change to change, plus and minus zoom"
      data-testid="lanes"
      :aria-busy="!kept || lanes.busy.value || !lanes.fits.value"
      :class="{ partly }"
      @scroll="scrolled = ($event.target as HTMLElement).scrollTop"
      @wheel="span.wheel"
      @pointerdown="scroller && span.grab($event, scroller)"
      @pointermove="move"
      @pointerleave="leave"
      @keydown="key"
    >
      <div class="room" :style="{ height: `${rows.length * pitch}px` }">
        <ChartPicture
          ref="picture"
          class="seen"
          :name="`hosts ${week.pool} ${day.date}`"
          label="Host lanes"
          :width="width"
          :height="visible"
          :left="left"
        >
          <template #canvas>
            <CanvasLayer :x="left" :y="0" :width="plot" :height="visible" :draw="draw" />
          </template>
          <template #over>
            <line
              v-if="frame.cursor.value !== null"
              :x1="xOf(frame.cursor.value)"
              :x2="xOf(frame.cursor.value)"
              y1="0"
              :y2="visible"
              class="pointer"
            />
            <rect
              v-if="cursor"
              :x="xOf(cursor.time) - 3"
              :y="cursor.row * pitch - scrolled - 1"
              width="6"
              :height="lane + 2"
              class="chosen"
            />
            <g v-if="partly">
              <rect
                :x="-left"
                :y="visible - AXIS"
                :width="width"
                :height="AXIS"
                class="ground-wash"
              />
              <AcrossAxis :ticks="ticks" :x="xOf" :width="plot" :y="visible - AXIS" />
            </g>
          </template>
        </ChartPicture>
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
.seen {
  position: sticky;
  top: 0;
}
.partly {
  cursor: grab;
}
.chosen {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.ground-wash {
  fill: var(--paper);
  opacity: 1;
}
.tools {
  display: flex;
  white-space: nowrap;
}
.tool {
  width: 20px;
  text-align: center;
}
.tool:disabled {
  opacity: 0.4;
}
</style>
