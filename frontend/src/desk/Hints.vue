<script setup lang="ts">
// What the `title` of anything says, shown by one tooltip for all of the desk: under the pointer, and where
// the keyboard is. The browser's own would come late, and never to the keyboard.
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { NTooltip } from 'naive-ui'
import { ref } from 'vue'

const said = ref('')
const shown = ref(false)
const at = ref({ x: 0, y: 0 })
let of: HTMLElement | null = null
const { start, stop } = useTimeoutFn(show, 400, { immediate: false })

function show() {
  if (!of?.isConnected || !said.value) return
  const box = of.getBoundingClientRect()
  at.value = { x: box.left + Math.min(box.width / 2, 120), y: box.bottom + 2 }
  shown.value = true
}
function enter(event: Event) {
  const target = (event.target as Element | null)?.closest?.<HTMLElement>('[title]') ?? null
  if (!target?.title) return
  // What stands there whole already needs no telling.
  if (target.title === target.textContent?.trim() && target.scrollWidth <= target.clientWidth) return
  leave()
  of = target
  said.value = target.title
  // Taken off while it is told, so that the browser doesn't tell it too.
  target.dataset.title = target.title
  target.removeAttribute('title')
  start()
}
function leave() {
  stop()
  shown.value = false
  if (of && !of.title && of.dataset.title) of.title = of.dataset.title
  if (of) delete of.dataset.title
  of = null
}
useEventListener(document, 'mouseover', (event) => {
  if (of && of.contains(event.target as Node)) return
  leave()
  enter(event)
})
useEventListener(document, 'focusin', (event) => {
  if ((event.target as Element).matches?.(':focus-visible')) enter(event)
})
for (const event of ['focusout', 'mousedown', 'keydown', 'wheel'] as const)
  useEventListener(document, event, leave, { passive: true })
</script>

<template>
  <NTooltip
    :show="shown"
    :x="at.x"
    :y="at.y"
    trigger="manual"
    placement="bottom-start"
    :style="{ maxWidth: '340px', whiteSpace: 'pre-line', pointerEvents: 'none' }"
    >{{ said }}</NTooltip
  >
</template>
