<script setup lang="ts">
// Photographs of a unit beside its settings: what no number says, for whoever sets it again.
import { computed, ref } from 'vue'
import { MOST_PHOTOS, type Photo } from '@nullet/core/session/rows'
import { base64, smallJpeg } from '~/session/photo'
import { api } from '~/stores/api'
import { useAsk } from '~/stores/ask'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'

const props = defineProps<{ id: string }>()
const store = useSession(),
  ask = useAsk(),
  notices = useNotices()
const picker = ref<HTMLInputElement>(),
  busy = ref(false)
const unit = computed(() => store.session!.unit[props.id]!)
const address = (p: Photo) => `/api/photos/${p.sha256}`
const all = computed(() => unit.value.photos.map(address))
const put = (photos: Photo[]) => store.apply('setUnit', { id: props.id, fields: { photos } })

async function picked(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement,
    files = [...(input.files ?? [])]
  input.value = ''
  busy.value = true
  const made: Photo[] = []
  for (const file of files) {
    const jpeg = await smallJpeg(file)
    if (!jpeg) notices.wrong(new Error(`“${file.name}” is no picture that this browser reads. It was left out.`))
    else
      try {
        const { sha256 } = await api<{ sha256: string }>('/api/photos', { body: { jpeg: base64(jpeg) } })
        made.push({ sha256, about: '' })
      } catch (error) {
        notices.wrong(error)
      }
  }
  busy.value = false
  const fresh = made.filter(m => !unit.value.photos.some(p => p.sha256 === m.sha256))
  const kept = fresh.slice(0, MOST_PHOTOS - unit.value.photos.length)
  if (kept.length) put([...unit.value.photos, ...kept])
  if (kept.length < fresh.length)
    notices.tell(`A unit has at most ${MOST_PHOTOS} photographs; ${fresh.length - kept.length} stayed out.`)
}
async function caption(p: Photo): Promise<void> {
  const about = await ask.ask({
    title: 'What the photograph shows',
    kind: 'text',
    act: 'Write it',
    initial: p.about,
    placeholder: 'the switches on the back'
  })
  if (about !== null && about !== undefined)
    put(unit.value.photos.map(o => (o.sha256 === p.sha256 ? { ...o, about } : o)))
}
function remove(p: Photo): void {
  if (put(unit.value.photos.filter(o => o.sha256 !== p.sha256)))
    notices.tell(`A photograph of ${unit.value.name} is taken away.`, store.thisUndo())
}
</script>

<template>
  <div class="photos" data-photos>
    <figure v-for="(p, i) in unit.photos" :key="p.sha256">
      <el-image
        class="small"
        :src="address(p)"
        :alt="p.about || `photograph ${i + 1} of ${unit.name}`"
        fit="cover"
        :preview-src-list="all"
        :initial-index="i"
        preview-teleported
        hide-on-click-modal
      />
      <figcaption>
        <button class="plain quiet clip" :title="p.about" @click="caption(p)">
          {{ p.about || 'what it shows…' }}</button><button
          class="plain quiet"
          :aria-label="`take photograph ${i + 1} of ${unit.name} away`"
          @click="remove(p)"
        >
          ×
        </button>
      </figcaption>
    </figure>
    <button
      v-if="unit.photos.length < MOST_PHOTOS"
      class="plain act"
      :disabled="busy"
      data-add-photo
      @click="picker?.click()"
    >
      {{ busy ? 'bringing it in…' : 'add a photograph…' }}
    </button>
    <input ref="picker" type="file" accept="image/*" multiple hidden data-photo-file @change="picked" />
  </div>
</template>

<style scoped>
.photos {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: end;
  margin: 6px 0;
}
figure {
  margin: 0;
  width: 96px;
}
.small {
  width: 96px;
  height: 72px;
  border: 1px solid var(--rule);
  cursor: zoom-in;
}
figcaption {
  display: flex;
  justify-content: space-between;
  gap: 4px;
  font-size: 11px;
}
.act {
  color: var(--acting);
  font-size: 12px;
}
</style>
