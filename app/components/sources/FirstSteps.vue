<script setup lang="ts">
// An empty session: the one place that takes files, a folder, a session package, or a template.
import { ref } from 'vue'
import { ACCEPTED, sorted } from '~/session/dropped'
import { useImports } from '~/stores/imports'
import { usePackages } from '~/stores/packages'
import { useShell } from '~/stores/shell'

const imports = useImports(),
  packages = usePackages(),
  shell = useShell()
const files = ref<HTMLInputElement>(),
  folder = ref<HTMLInputElement>(),
  zip = ref<HTMLInputElement>()

function chosen(e: Event, loose: boolean): void {
  const input = e.target as HTMLInputElement
  const all = [...(input.files ?? [])]
  if (all.length) imports.take(sorted(all, loose ? undefined : new Set()))
  input.value = ''
}
const steps = [
  { label: 'Choose files…', run: () => files.value?.click() },
  { label: 'A whole folder…', run: () => folder.value?.click() },
  { label: 'A session package…', run: () => zip.value?.click() },
  { label: 'A template…', run: () => (shell.sheet = 'templates') },
  { label: 'Channels without audio…', run: () => (shell.sheet = 'channels') }
]
</script>

<template>
  <EmptyView title="Bring the tracks in" :steps="steps">
    Drop files, a folder or a session package anywhere on this page.<br />
    <span class="quiet"
      >WAV, RF64, AIFF and FLAC, mono to sixteen legs, any rate; Standard MIDI Files become note tracks. While the
      session is empty its {{ imports.rate() / 1000 }} kHz follow the files; later ones are converted, and said.</span
    >
    <p v-if="packages.coming" class="quiet" data-coming>{{ packages.words }}</p>
    <input ref="files" type="file" :accept="ACCEPTED" multiple hidden @change="chosen($event, true)" />
    <input ref="folder" type="file" webkitdirectory multiple hidden data-folder @change="chosen($event, false)" />
    <input ref="zip" type="file" accept=".zip" hidden data-package @change="chosen($event, true)" />
  </EmptyView>
</template>
