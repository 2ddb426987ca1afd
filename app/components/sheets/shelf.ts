// A shelf of the installation in a sheet: what stands on it, kept and removed as steps among the others, out to a file
// and in from one.
import { onMounted, shallowRef } from 'vue'
import { api } from '~/stores/api'
import { newId } from '~/stores/ids'
import { useNotices } from '~/stores/notices'
import { useSession } from '~/stores/session'
import { takeOut } from './takeOut'

interface Kind<D> {
  /** In the address of its routes. */
  path: 'templates' | 'rigs'
  /** “the template”, in what was done. */
  word: string
  /** Before `.json`, in the name of a file. */
  ending: string
  /** @throws what is wrong with the text */
  read(text: string): D
}

export function useShelf<S extends { id: string; name: string }, D extends { name: string }>(kind: Kind<D>) {
  const store = useSession(),
    notices = useNotices()
  const list = shallowRef<S[] | null>(null)
  const at = (id: string) => `/api/${kind.path}/${encodeURIComponent(id)}`

  async function load(): Promise<void> {
    try {
      list.value = await api<S[]>(`/api/${kind.path}`)
    } catch (error) {
      notices.wrong(error)
      list.value = []
    }
  }
  onMounted(load)

  /** Does it, and says how it is undone: one step among the others. */
  async function step(label: string, about: string, act: () => Promise<unknown>, undo: () => Promise<unknown>) {
    try {
      await act()
      const both = { undo: () => undo().then(load), redo: () => act().then(load) }
      store.doneBeside(label, { about, ...both })
      notices.tell(`${label}.`, store.thisUndo())
    } catch (error) {
      notices.wrong(error)
    }
    await load()
  }
  const put = (id: string, document: D) => api(at(id), { method: 'PUT', body: document })
  const away = (id: string) => api(at(id), { method: 'DELETE' })

  async function keep(document: D): Promise<string> {
    const id = newId()
    await step(
      `Keep ${kind.word} “${document.name}”`,
      id,
      () => put(id, document),
      () => away(id)
    )
    return id
  }
  const replace = (id: string, document: D, before: D) =>
    step(
      `Change ${kind.word} “${before.name}”`,
      id,
      () => put(id, document),
      () => put(id, before)
    )
  const remove = ({ id, name }: S) =>
    step(
      `Remove ${kind.word} “${name}”`,
      id,
      () => away(id),
      () => api(`${at(id)}/restore`, { method: 'POST' })
    )

  /** Null where it cannot be read, which is said. */
  async function open(id: string): Promise<D | null> {
    try {
      return kind.read(JSON.stringify(await api(at(id))))
    } catch (error) {
      notices.wrong(error)
      return null
    }
  }
  async function out(id: string): Promise<void> {
    const document = await open(id)
    if (document)
      takeOut(`${document.name}.${kind.ending}.json`, 'application/json', `${JSON.stringify(document, null, 1)}\n`)
  }
  async function bring(e: Event): Promise<void> {
    const input = e.target as HTMLInputElement,
      file = input.files?.[0]
    if (!file) return
    try {
      await keep(kind.read(await file.text()))
    } catch (error) {
      notices.wrong(new Error(`${file.name}: ${(error as Error).message}. Nothing was kept.`))
    }
    input.value = ''
  }

  return { list, load, keep, replace, remove, open, out, bring }
}
