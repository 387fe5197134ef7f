<script setup lang="ts">
// A package as it went out; or held against another.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { usePackagesCompared } from '../../api/issue'
import { useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import { day, money, shown, signed } from '../../desk/numbers'

type Package = Schemas['PackageView']
const props = defineProps<{ packageId: number; packages: Package[]; readonly: boolean }>()
const route = useRoute()
const router = useRouter()
const { save, projectId } = useSave()
const view = computed(() => props.packages.find((each) => each.id === props.packageId))
const before = computed(() => Number(route.query.before) || 0)
const { data: compared, error } = usePackagesCompared(before, () => props.packageId)
const named = (each: Package) => `${each.number} ${each.title}, ${day(each.issued_on)}`
const others = computed(() => [
  ...(before.value ? [{ value: 0, label: 'by itself' }] : []),
  ...props.packages
    .filter((each) => each.id !== props.packageId)
    .map((each) => ({ value: each.id, label: named(each) })),
])
const put = (other: number) => router.replace({ query: other ? { before: String(other) } : {} })
const size = (bytes: number) =>
  bytes < 1e6 ? `${shown(Math.max(bytes / 1e3, 1), 0)} kB` : `${shown(bytes / 1e6, 1)} MB`
async function remove() {
  const done = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/packages/{package}', {
        params: { path: { project_id: projectId.value, package: props.packageId } },
      }),
    ),
  )
  if (done) await router.push(`/projects/${projectId.value}/issue`)
}
</script>

<template>
  <template v-if="view">
    <div class="desk-head head">
      <b>{{ view.number }} {{ view.title }}</b>
      <span class="does">
        <NButton v-if="!readonly" text @click="remove">Take it back</NButton>
        <NButton
          tag="a"
          type="primary"
          size="small"
          :href="`/api/projects/${projectId}/packages/${view.id}/file`"
          download
          >Take the file, {{ size(view.bytes) }}</NButton
        >
      </span>
    </div>
    <div class="facts">
      <span class="quiet"
        >Issued {{ day(view.issued_on) }} by {{ view.issued_by
        }}{{ view.recipient ? `, to ${view.recipient}` : '' }}</span
      >
      <span
        >Bill as it went out
        <RouterLink :to="`/projects/${projectId}/bill?bill=${view.bill}`"
          ><b class="num">{{ money(view.total) }}</b> {{ view.currency }}</RouterLink
        ></span
      >
      <label v-if="packages.length > 1" class="beside"
        ><span class="quiet">Beside</span>
        <ChoiceField
          :value="before || null"
          :options="others"
          label="Beside which package"
          placeholder="another package"
          @choose="put"
      /></label>
    </div>
    <p v-if="view.note" class="note">{{ view.note }}</p>
    <p v-if="before && error" class="bad note">{{ error.message }}</p>
    <div v-if="before && compared" class="scroll" tabindex="0" role="region" aria-label="Packages compared">
      <p class="note">
        The bill moved by
        <b class="num">{{ signed(Number(compared.after.total) - Number(compared.before.total)) }}</b>
        {{ compared.after.currency }}:
        <RouterLink
          :to="`/projects/${projectId}/bill/compared?before=${compared.before.bill}&after=${compared.after.bill}`"
          >item by item</RouterLink
        >
      </p>
      <table class="listing">
        <thead>
          <tr>
            <th>Document</th>
            <th>What it tells</th>
            <th class="num">in {{ compared.before.number }}</th>
            <th class="num">in {{ compared.after.number }}</th>
          </tr>
        </thead>
        <tbody v-for="document in compared.documents" :key="document.title">
          <tr>
            <td>{{ document.title }}</td>
            <td class="quiet">
              {{
                !document.before
                  ? 'new'
                  : !document.after
                    ? 'left out'
                    : document.differs.length
                      ? ''
                      : 'tells the same'
              }}
            </td>
            <td></td>
            <td></td>
          </tr>
          <tr v-for="pair in document.differs" :key="`${pair.name} ${pair.unit}`">
            <td></td>
            <td>{{ pair.name }}</td>
            <td class="num">{{ pair.before ? `${pair.before} ${pair.unit}` : 'none' }}</td>
            <td class="num">{{ pair.after ? `${pair.after} ${pair.unit}` : 'none' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-else class="scroll" tabindex="0" role="region" aria-label="Documents of the package">
      <table class="listing">
        <thead>
          <tr>
            <th>File</th>
            <th>Document</th>
            <th class="num">Size</th>
            <th>Tells</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="document in view.documents" :key="document.name">
            <td>{{ document.name }}</td>
            <td>{{ document.title }}</td>
            <td class="num">{{ size(document.bytes) }}</td>
            <td class="quiet">
              <span v-for="told in document.told.slice(0, 4)" :key="told.name" class="told"
                >{{ told.name }}: <span class="num">{{ told.value }} {{ told.unit }}</span></span
              >
              <span v-if="document.told.length > 4">and {{ document.told.length - 4 }} more</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </template>
  <div v-else class="empty"><h2>That package was taken back</h2></div>
</template>

<style scoped>
.head,
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.does {
  display: flex;
  gap: 14px;
  align-items: center;
  margin-left: auto;
}
.facts {
  gap: 4px 24px;
  padding: 8px 12px 0;
}
.beside {
  display: grid;
  grid-template-columns: auto 260px;
  gap: 8px;
  align-items: center;
}
.note {
  margin: 8px 12px;
}
.scroll {
  flex: 1;
}
.num {
  white-space: nowrap;
}
.told {
  display: inline-block;
  margin-right: 12px;
}
</style>
