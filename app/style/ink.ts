// Colours of the theme for a drawing, asked for once a theme.
import { watch } from 'vue'
import { useTheme } from '~/stores/theme'
import { coloursOf } from './canvas'

/** @param el the drawing @param names of custom properties, with their dashes @param again draws it anew */
export function useInk<K extends string>(
  el: () => Element,
  names: Readonly<Record<K, string>>,
  again: () => void
): () => Record<K, string> {
  const theme = useTheme()
  let ink: Record<K, string> | null = null
  watch(
    () => theme.name,
    () => {
      ink = null
      again()
    },
    { flush: 'post' }
  )
  return () => (ink ??= coloursOf(el(), names))
}
