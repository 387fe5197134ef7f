<script setup lang="ts">
// What an element comes to, beside its dimension sheet: each quantity with its waste and where it goes.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import { quantity, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'

const props = defineProps<{ element: Schemas['ElementView']; readonly: boolean }>()
const { save, projectId } = useSave()
const router = useRouter()
const walk = useWalkStore()
const unlinked = computed(() =>
  props.element.quantities.some((q) => q.billed && q.item === null && q.net !== 0),
)
const intoBill = (output = '') =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/elements/{element}/bill', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { output },
      }),
    ),
  )
</script>

<template>
  <section class="quantities" :aria-label="`Quantities of ${element.mark}`">
    <div class="head">
      <b>Quantities of {{ element.mark }}</b>
      <NButton v-if="!readonly && unlinked" type="primary" size="small" @click="intoBill()"
        >Into the bill</NButton
      >
    </div>
    <div class="scroll">
      <div v-for="q in element.quantities" :key="q.output" class="quantity">
        <NButton
          text
          type="primary"
          class="laid name"
          :title="`Show how ${q.label.toLowerCase()} comes about`"
          @click="walk.look(`quantity:${element.id}:${q.output}`)"
        >
          {{ q.label }}
        </NButton>
        <b class="num">{{ quantity(q.net, q.unit) }}</b>
        <span class="quiet">{{ q.unit }}</span>
        <span class="quiet">{{
          q.waste ? `${quantity(q.gross, q.unit)} with ${shown(q.waste, 0, 2)} % waste` : 'no waste'
        }}</span>
        <NButton
          v-if="q.item"
          text
          type="primary"
          class="laid goes"
          @click="router.push(`/projects/${projectId}/bill?at=item-quantity:${q.item}`)"
        >
          item {{ q.item_ref }}
        </NButton>
        <span v-else class="quiet goes" :title="q.pack"
          >{{ q.pack || (q.billed ? 'not in the bill' : 'material') }}
          <NButton
            v-if="!readonly && q.net"
            text
            type="primary"
            :aria-label="`Bill it: ${q.label}`"
            @click="intoBill(q.output)"
          >
            bill it
          </NButton></span
        >
      </div>
    </div>
  </section>
</template>

<style scoped>
.quantities {
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-top: 1px solid var(--ink);
}
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  min-height: 36px;
  padding: 3px 16px;
  border-bottom: 1px solid var(--rule);
}
.quantity {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 26px;
  gap: 0 8px;
  padding: 3px 16px;
  border-bottom: 1px solid var(--rule);
}
.name.laid {
  color: var(--main);
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.goes.laid {
  color: var(--main);
}
.goes {
  display: block;
  grid-column: 2 / 4;
  overflow: hidden;
  max-width: 170px;
  text-align: right;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
