<script setup lang="ts">
// A stage of the path: the list on the left, folding away, and the desk.
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount } from 'vue'
import { useTally } from './tally'
import { useWalkStore } from './walk'

/** `keeps` its list, where that is what one comes for. */
const props = defineProps<{ label: string; keeps?: boolean }>()
const walk = useWalkStore()
const tally = useTally()
const folded = computed(() => walk.listFolded && !props.keeps)
// What was selected at a stage is told of there only: left standing, it would be a stale number.
onBeforeUnmount(() => (tally.selected = []))
</script>

<template>
  <div class="stage" :class="{ folded }">
    <aside :aria-label="label">
      <NButton
        v-if="!keeps"
        text
        class="fold"
        :aria-expanded="!walk.listFolded"
        :title="walk.listFolded ? `Show ${label}` : `Fold ${label}`"
        @click="walk.listFolded = !walk.listFolded"
      >
        {{ walk.listFolded ? '›' : '‹' }}
      </NButton>
      <div v-show="!folded" class="inside"><slot name="list" /></div>
    </aside>
    <section class="desk"><slot /></section>
  </div>
</template>

<style scoped>
.stage {
  display: grid;
  grid-template-columns: 264px minmax(0, 1fr);
  height: 100%;
}
.stage.folded {
  grid-template-columns: 22px minmax(0, 1fr);
}
@media (max-width: 1220px) {
  .stage:not(.folded) {
    grid-template-columns: 216px minmax(0, 1fr);
  }
}
aside {
  position: relative;
  display: flex;
  min-height: 0;
  border-right: 1px solid var(--rule);
}
.fold {
  position: absolute;
  top: 8px;
  right: 4px;
  z-index: 1;
  width: 16px;
  text-align: center;
  color: var(--quiet);
}
.inside {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-width: 0;
}
.desk {
  display: flex;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
  background: var(--panel);
}
</style>
