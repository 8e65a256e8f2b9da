<script setup lang="ts">
// The pieces that are cut for an order: they are in time for it on the day.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import PickOne from '../components/PickOne.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { useRail } from '../stages/rail/useRail'
import { say } from '../words/say'

const props = defineProps<{ order: S['Order']; set: (pieces: string[]) => Promise<void> }>()
const { mass } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const { data: cards } = useRail()
const changes = computed(() => props.order.state === 'open' && may('PUT /orders/{order_id}/pieces'))
const mine = computed(() => new Set(props.order.pieces.map((p) => p.id)))
const others = computed(() =>
  (cards.value ?? [])
    .filter((c) => !mine.value.has(c.id) && !c.breakdown_id)
    .map((c) => ({
      id: c.id,
      name: `${c.name}, ${c.lot_number} / ${c.number}, ${mass(c.weight_g, 2)}${c.plan_name ? `: ${c.plan_name}` : ''}`,
    })),
)
const states = { waits: 'waits', cutting: say('is being cut'), cut: say('is cut') }
const keep = (pieces: string[], text: string) =>
  attempt(async () => {
    const was = [...mine.value]
    await props.set(pieces)
    done(text, () => props.set(was))
  })
const add = (id: string) => id && keep([...mine.value, id], say('It is cut for this order.'))
const leave = (id: string) =>
  keep(
    [...mine.value].filter((x) => x !== id),
    say('It is not cut for this order any more.'),
  )
</script>

<template>
  <section v-if="order.pieces.length || changes" class="pieces">
    <h2>Cut from</h2>
    <p v-if="!order.pieces.length" class="small">No piece in particular: the day takes what gives it.</p>
    <ul>
      <li v-for="p in order.pieces" :key="p.id">
        {{ p.name }}, {{ p.lot_number }} / {{ p.number }}, {{ states[p.state] }}
        <PvButton v-if="changes" text label="Leave it out" :disabled="busy" @click="leave(p.id)" />
      </li>
    </ul>
    <PickOne
      v-if="changes"
      :model-value="''"
      :options="others"
      none="a piece of the rail"
      label="Add a piece that is cut for it"
      :disabled="busy"
      @update:model-value="add"
    />
    <p v-if="problem" class="fault" role="alert">{{ problem.errors[0]?.message ?? problem.message }}</p>
  </section>
</template>

<style scoped>
.pieces {
  margin-top: 24px;
}
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: center;
  min-height: 44px;
}
</style>
