<script setup lang="ts">
// What a network of trenches comes to. Each line walks to its arithmetic, run by run.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { quantity } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import type { Net } from './trenches'

const props = defineProps<{ net: Net }>()
const walk = useWalkStore()
const look = (output: string) => walk.look(`quantity:${props.net.id}:${output}`)
const lines = computed(() => props.net.lines.filter((l) => l.net))
</script>

<template>
  <section class="shares scroll" aria-label="What the trenches come to">
    <h3>Quantities</h3>
    <NButton v-for="l in lines" :key="l.output" text class="laid row" @click="look(l.output)"
      ><span>{{ l.label }}</span
      ><span class="num"
        >{{ quantity(l.net, l.unit) }} <span class="quiet">{{ l.unit }}</span></span
      ></NButton
    >
    <p v-if="!lines.length" class="quiet">None yet.</p>
  </section>
</template>
