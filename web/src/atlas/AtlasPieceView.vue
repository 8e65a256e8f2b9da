<script setup lang="ts">
// One piece of the atlas: its seam map as the index, the muscle that was touched beside it, order and cautions below.
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import StateNote from '../components/StateNote.vue'
import { useAtlasPiece } from '../api/useAtlasPiece'
import { useShop } from '../shell/shop'
import { percent } from '../words/shown'
import BlockPicture from '../body/BlockPicture.vue'
import BodyFan from '../body/BodyFan.vue'
import SeamTimes from '../body/SeamTimes.vue'
import MuscleSheet from './MuscleSheet.vue'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

const props = defineProps<{ piece: string }>()
const route = useRoute()
const router = useRouter()
const { mass } = useShop()
const { data: p, error, isLoading, refetch } = useAtlasPiece(() => props.piece)

const order = computed(() => {
  const left = [...(p.value?.muscles ?? [])]
  const out: typeof left = []
  while (left.length) {
    const i = Math.max(
      0,
      left.findIndex((m) => m.after.every((a) => out.some((o) => o.id === a))),
    )
    out.push(...left.splice(i, 1))
  }
  return out
})
const picked = computed(() => order.value.find((m) => `#${m.id}` === route.hash) ?? order.value[0])
const pick = (id: string) => void router.replace({ ...route, hash: `#${id}` } as never)
const marks = computed<Record<string, MapMark>>(() =>
  Object.fromEntries(
    order.value.map((m, i) => [
      m.id,
      {
        name: `${i + 1} ${m.market_name}`,
        code: `${i + 1}`,
        line: percent(m.share_pct, 0),
        state: picked.value?.id === m.id ? 'next' : 'plain',
      } satisfies MapMark,
    ]),
  ),
)
const alsoCalled = computed(() =>
  Object.entries(p.value?.names ?? {})
    .map(([market, names]) => `${market}: ${names.join(', ')}`)
    .join(' · '),
)

useTitle(() => p.value?.market_name)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the piece" @retry="refetch()" />
    <template v-if="p">
      <div class="spread">
        <p class="label">{{ p.species }} · {{ p.region }}</p>
        <a class="no-print" :href="`/api/v1/atlas/pieces/${p.id}/card.pdf`" target="_blank" rel="noopener"
          >The seam card, to print</a
        >
      </div>
      <h1 class="sentence big">{{ p.market_name }}</h1>
      <p class="small">
        {{ p.market_name === p.name ? '' : `${p.name} · ` }}{{ alsoCalled
        }}{{
          Object.keys(p.codes).length
            ? ` · ${Object.entries(p.codes)
                .map(([k, v]) => `${k.toUpperCase()} ${v}`)
                .join(', ')}`
            : ''
        }}
      </p>
      <p>
        {{ mass(p.low_g, 1) }} to {{ mass(p.high_g, 1) }}, usually {{ mass(p.typical_g, 1) }}.
        <span class="arrives">{{ p.arrives }}.</span>
      </p>
      <div class="lay">
        <div class="left">
          <SeamMap
            :map="p.seam_map"
            :marks="marks"
            pickable
            :picked="picked?.id"
            :title="say`Seam map of ${p.market_name}`"
            :size="3.4"
            keyed
            :file="`seams-${p.id}`"
            @pick="pick"
          />
          <p class="small">Areas are true to weight; figures count the order in which the seams are cut.</p>
          <ol class="order">
            <li v-for="m in order" :key="m.id" :class="{ here: picked?.id === m.id }">
              <button type="button" class="step" @click="pick(m.id)">
                <strong>{{ m.market_name }}</strong> <span class="small">{{ percent(m.share_pct, 1) }}</span>
              </button>
            </li>
          </ol>
          <h2>Beside the muscles</h2>
          <p class="small">{{ p.parts.map((o) => `${o.name} ${percent(o.share_pct, 1)}`).join(' · ') }}</p>
        </div>
        <MuscleSheet v-if="picked" :key="picked.id" :muscle="picked" :piece="p" @pick="pick" />
      </div>
      <BlockPicture :piece="p.id" />
      <BodyFan :piece="p.id" :muscle="picked?.id" />
      <SeamTimes :piece="p.id" />
      <div class="lay below">
        <div>
          <h2>Look, smell, feel</h2>
          <dl>
            <template v-for="i in p.inspect" :key="i.id"
              ><dt>{{ i.look }}</dt>
              <dd>{{ i.do }}</dd></template
            >
          </dl>
        </div>
        <div>
          <h2>Take care</h2>
          <ul>
            <li v-for="c in p.cautions" :key="c">{{ c }}</li>
          </ul>
          <p class="small">Local codes and your own training come first.</p>
          <div class="spread gap">
            <h2>Ways to cut it</h2>
            <RouterLink class="no-print" :to="{ name: 'plans', params: { piece: p.id } }"
              >Compare them, or make one</RouterLink
            >
          </div>
          <dl>
            <template v-for="pl in p.plans" :key="pl.id"
              ><dt>
                {{ pl.name }} <span class="small">{{ pl.minutes }} minutes, {{ pl.tool }}</span>
              </dt>
              <dd>{{ pl.why }}</dd></template
            >
          </dl>
        </div>
      </div>
      <p class="small">Basis: {{ p.basis }}.</p>
    </template>
  </section>
</template>

<style scoped>
.arrives::first-letter {
  text-transform: uppercase;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 40px;
  margin-top: 16px;
  align-items: start;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.order {
  margin: 0;
  padding-left: 26px;
  columns: 2;
}
.order li {
  break-inside: avoid;
}
.order li.here strong {
  color: var(--act);
}
.step {
  border: 0;
  background: none;
  padding: 4px 0;
  min-height: 44px;
  text-align: left;
  cursor: pointer;
}
dt {
  font-weight: 650;
  margin-top: 10px;
}
dd {
  margin: 2px 0 0;
  color: var(--ink-2);
}
ul {
  padding-left: 18px;
  margin: 8px 0;
}
li {
  margin: 4px 0;
}
.below {
  border-top: 1px solid var(--hairline);
  padding-top: 16px;
}
.gap {
  margin-top: 18px;
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .order {
    columns: 1;
  }
}
</style>
