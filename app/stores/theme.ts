// Paper or Dim room, remembered on this machine.
import { defineStore } from 'pinia'
import { shallowRef, watchEffect } from 'vue'

export const useTheme = defineStore('theme', () => {
  const name = shallowRef<'paper' | 'dim'>(localStorage.getItem('nullet theme') === 'dim' ? 'dim' : 'paper')
  watchEffect(() => {
    document.documentElement.dataset.theme = name.value
    localStorage.setItem('nullet theme', name.value)
  })
  return {
    name,
    toggle: () => {
      name.value = name.value === 'dim' ? 'paper' : 'dim'
    }
  }
})
