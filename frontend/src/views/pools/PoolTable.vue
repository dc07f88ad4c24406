<script setup lang="ts">
import { computed } from 'vue'

import type { PoolRow } from '@/api/client'
import { called } from '@/plan/called'
import { count, meanOf, money } from '@/ui/format'
import { PARTS, sayPart, STANDING_LOOK, STANDING_MARK } from '@/ui/promise'

import type { Pools } from './usePools'

/** All pools in one table-picture: water is the peak, the quay what the hosts hold. */
const props = defineProps<{ pools: Pools }>()
const answer = computed(() => props.pools.table.answer.value)
const currency = computed(() => props.pools.store.plan?.currency ?? '')
const most = computed(() =>
  Math.max(1, ...props.pools.rows.value.map((p) => Math.max(p.peak, p.holds))),
)
/** Small pools are seen beside large ones: lengths go with the square root. */
const long = (sessions: number) => `${Math.sqrt(sessions / most.value) * 100}%`
const credits = (months: number) =>
  months < 2 ? `${count(months * 30.4)} days` : `${count(months, 1)} months`
/** The parts that are promised somewhere and that anybody could feel. */
const shown = computed(() =>
  PARTS.filter(({ field }) =>
    props.pools.rows.value.some(({ verdicts }) => {
      const { figure, limit } = verdicts[field]
      return limit !== null && (figure.mean !== null || !!figure.unbounded)
    }),
  ),
)
const nobody = (row: PoolRow) => row.groups.length === 0
function peopleOf(row: PoolRow): string {
  if (nobody(row)) return 'nobody'
  return row.people ? count(row.people) : 'drop-ins'
}
const owed = (row: PoolRow) =>
  shown.value.map((part) => {
    if (nobody(row)) return { field: part.field, text: '–', standing: null, why: '' }
    const { figure, limit, standing } = row.verdicts[part.field]
    const losses = part.field === 'lost_returns' ? row.verdicts.losses : []
    return {
      field: part.field,
      text: meanOf(figure, sayPart(part)),
      standing: limit === null ? null : standing,
      why: losses.map((l) => `${count(l.people, 1)} because ${l.text}`).join('; '),
    }
  })
</script>

<template>
  <table v-if="pools.rows.value.length" class="lines" data-testid="pool-table">
    <thead>
      <tr>
        <th scope="col">Pool</th>
        <th scope="col">Peak of sessions against what the hosts hold</th>
        <th scope="col" class="num">People</th>
        <th scope="col" class="num">Limit × hosts</th>
        <th scope="col">Size, place</th>
        <th scope="col" class="num">A person, a month</th>
        <th scope="col" class="num">Month</th>
        <th v-for="part in shown" :key="part.field" scope="col" class="num">{{ part.head }}</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="row in pools.rows.value"
        :key="row.id"
        :class="{ on: row.id === pools.pool.value?.id }"
      >
        <th scope="row">
          <button
            class="link"
            :aria-pressed="row.id === pools.pool.value?.id"
            :data-testid="`pool-${row.id}`"
            @click="pools.go({ pool: row.id, against: undefined })"
          >
            {{ called('pools', row.id) }}
          </button>
          <small class="quiet"> {{ row.kind }}</small>
          <!-- Its room is there before the findings are. -->
          <span class="found" :title="row.findings ? `${row.findings} findings in Checks` : ''">
            {{ row.findings ? `▲${row.findings}` : '' }}</span
          >
        </th>
        <td class="picture">
          <span
            class="basin"
            role="img"
            :aria-label="`peak ${row.peak}, the hosts hold ${row.holds}`"
          >
            <span class="water" :style="{ width: long(Math.min(row.peak, row.holds)) }"></span>
            <span
              v-if="row.peak > row.holds"
              class="flood"
              :style="{
                left: long(row.holds),
                width: `calc(${long(row.peak)} - ${long(row.holds)})`,
              }"
            ></span>
            <span class="quay" :style="{ left: long(row.holds) }"></span>
          </span>
          <span class="said"
            ><b :class="{ bad: row.peak > row.holds }">{{ count(row.peak) }}</b> of
            {{ count(row.holds) }}</span
          >
        </td>
        <td class="num">{{ peopleOf(row) }}</td>
        <td class="num">
          {{ row.session_limit }} × {{ count(row.standing)
          }}<template v-if="row.surge"> + {{ row.surge }} surge</template>
        </td>
        <td>
          {{ called('sizes', row.size)
          }}<small v-if="row.place" class="quiet"> {{ called('places', row.place) }}</small>
        </td>
        <td class="num">
          {{
            row.verdicts.cost_per_person === null
              ? '–'
              : money(row.verdicts.cost_per_person, currency, 2)
          }}
        </td>
        <td class="num">{{ money(row.figures.cost.month, currency) }}</td>
        <td
          v-for="each in owed(row)"
          :key="each.field"
          class="num"
          :class="each.standing && STANDING_LOOK[each.standing]"
          :title="each.standing === 'at risk' ? `at risk ${each.why}` : each.why"
        >
          {{ each.standing && STANDING_MARK[each.standing] }} {{ each.text }}
        </td>
      </tr>
    </tbody>
    <tfoot v-if="answer">
      <tr>
        <th scope="row" colspan="6">
          All pools<template v-if="answer.credit_months !== null">
            <small class="quiet">
              · means of {{ answer.weeks }} weeks; the credits last
              {{ credits(answer.credit_months) }}</small
            ></template
          >
        </th>
        <td class="num">
          <b>{{ money(answer.month, answer.currency) }}</b>
        </td>
        <td colspan="4"></td>
      </tr>
    </tfoot>
  </table>
</template>

<style scoped>
td {
  white-space: nowrap;
}
tbody th {
  min-width: 9em;
  white-space: nowrap;
}
tfoot th,
tfoot td {
  border: 0 !important;
}
th small,
td small,
.found {
  margin-left: 6px;
}
.picture {
  width: 20%;
  min-width: 132px;
}
.basin {
  position: relative;
  display: inline-block;
  vertical-align: middle;
  width: calc(100% - 96px);
  height: 13px;
  background: var(--paper-sunk);
  margin-right: 8px;
}
.basin span {
  position: absolute;
  top: 0;
  bottom: 0;
}
.water {
  left: 0;
  background: var(--water-2);
}
.flood {
  background: var(--buoy);
}
.basin .quay {
  top: -3px;
  bottom: -3px;
  width: 3px;
  margin-left: -1.5px;
  background: var(--brass-line);
}
.bad,
.found {
  color: var(--buoy);
}
.found {
  display: inline-block;
  min-width: 1.9em;
  font-size: 12px;
}
</style>
