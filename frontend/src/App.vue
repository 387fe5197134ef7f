<script setup lang="ts">
import { NConfigProvider } from 'naive-ui'
import { theme } from './theme'
</script>

<template>
  <NConfigProvider :theme-overrides="theme" preflight-style-disabled abstract>
    <RouterView />
  </NConfigProvider>
</template>
