<script setup lang="ts">
import { NButton } from 'naive-ui'
import { defineAsyncComponent, ref } from 'vue'
import { money, signed } from './numbers'
import { useTally } from './tally'
import { useWalkStore } from './walk'

const MovedDialog = defineAsyncComponent(() => import('./MovedDialog.vue'))
defineProps<{ currency: string; writer: boolean }>()
const asked = ref(0)
const tally = useTally()
const walk = useWalkStore()
</script>

<template>
  <footer aria-label="Tally">
    <span v-for="each in tally.selected" :key="each.label"
      >{{ each.label }} <b class="num">{{ each.value }} {{ each.unit }}</b></span
    >
    <NButton text class="total" title="Show how the bill total comes about" @click="walk.look('bill')">
      Bill <b class="num" data-test="bill-total">{{ money(tally.total) }} {{ currency }}</b>
    </NButton>
    <span class="push"></span>
    <span v-if="tally.lastLabel" class="last">{{ tally.lastLabel }}</span>
    <NButton
      v-if="writer && tally.lastChange && tally.lastChange >= tally.heardChange"
      text
      class="effect"
      @click="asked = tally.lastChange"
      >what it moved</NButton
    >
    <MovedDialog v-if="asked" :change="asked" @close="asked = 0" />
    <span class="num moved" data-test="moved"
      >{{ tally.movement ? signed(tally.movement) : 'unmoved' }} since {{ tally.opened?.at }}</span
    >
    <span class="saved" :class="{ lost: !tally.online }" role="status">{{
      !tally.online ? 'no server' : tally.writing ? 'saving' : 'saved'
    }}</span>
  </footer>
</template>

<style scoped>
footer {
  grid-area: tally;
  display: flex;
  align-items: center;
  gap: 24px;
  padding: 0 14px;
  background: var(--foot);
  color: var(--foot-quiet);
  white-space: nowrap;
  overflow: hidden;
}
b {
  color: var(--foot-ink);
  font-weight: 400;
}
.effect {
  color: var(--foot-accent);
}
.total {
  color: var(--foot-quiet);
}
.push {
  flex: 1;
}
.last {
  overflow: hidden;
  text-overflow: ellipsis;
}
.moved {
  color: var(--foot-accent);
}
.lost {
  color: var(--foot-accent);
}
.saved {
  width: 58px;
}
</style>
