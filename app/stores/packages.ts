// A session package on its way in, from wherever it was dropped: a new session is made of it and opened.
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { goTo } from './goTo'
import { newId } from './ids'
import { useNotices } from './notices'
import { upload } from './upload'

export const usePackages = defineStore('packages', () => {
  const notices = useNotices()
  const coming = shallowRef<{ name: string; share: number; cut: boolean } | null>(null)
  const words = computed(() => {
    const c = coming.value
    if (!c) return ''
    if (c.cut) return 'The line was cut; it goes on by itself where it stopped.'
    return c.share < 1 ? `sending “${c.name}”, ${Math.round(c.share * 100)} %` : `reading “${c.name}”…`
  })

  async function bring(file: File): Promise<void> {
    if (coming.value) return notices.tell(`“${coming.value.name}” is on its way; bring the next one in after it.`)
    coming.value = { name: file.name, share: 0, cut: false }
    const change = (fields: { share?: number; cut?: boolean }) => {
      if (coming.value) coming.value = { ...coming.value, ...fields }
    }
    try {
      const id = newId()
      const said = await upload<{ notes: string[] }>({
        path: '/api/packages',
        query: { id },
        file,
        session: id,
        progress: share => change({ share }),
        cut: cut => change({ cut })
      })
      said?.notes.slice(0, 3).forEach(n => notices.tell(n))
      await goTo(`/s/${id}`)
    } catch (error) {
      notices.wrong(error)
    } finally {
      coming.value = null
    }
  }
  return { coming, words, bring }
})
