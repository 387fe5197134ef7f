<script setup lang="ts">
// The hatches of layers in sections across a route: each tells itself apart without its colour.
const LAYERS = [
  { ground: '#55504a', mark: '' },
  { ground: '#8d857a', mark: 'M0 8L8 0' },
  { ground: '#e6dcc2', mark: 'M1.6 2h1.4M5.4 5.6h1.4M2.6 6.8h.8' },
  { ground: '#efe3c8', mark: 'M0 3q2-2 4 0t4 0M0 7q2-2 4 0t4 0' },
  { ground: '#dfe7e4', mark: 'M0 4H8' },
  { ground: '#d8d3cc', mark: 'M4 0V8' },
  { ground: '#ecdfe7', mark: 'M0 0L8 8M8 0L0 8' },
  { ground: '#e3ead3', mark: 'M0 0L8 8' },
]
</script>

<template>
  <defs>
    <pattern
      v-for="(look, n) in LAYERS"
      :id="`h-${n}`"
      :key="n"
      width="8"
      height="8"
      patternUnits="userSpaceOnUse"
    >
      <rect width="8" height="8" :fill="look.ground" />
      <path :d="look.mark" fill="none" :stroke="n < 2 ? '#ded8cd' : '#7d7054'" stroke-width="0.9" />
    </pattern>
    <pattern id="h-cut" width="9" height="9" patternUnits="userSpaceOnUse">
      <rect width="9" height="9" fill="#f6e0c4" />
      <path d="M0 9L9 0" stroke="#b86f24" stroke-width="0.8" />
    </pattern>
    <pattern id="h-fill" width="9" height="9" patternUnits="userSpaceOnUse">
      <rect width="9" height="9" fill="#d5e6e8" />
      <path d="M0 0L9 9" stroke="#1d6670" stroke-width="0.8" />
    </pattern>
  </defs>
</template>
