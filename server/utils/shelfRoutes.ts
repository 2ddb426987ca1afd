// The routes of a shelf: read, keep, remove, bring back.
import { z } from 'zod'
import { store } from '../store/connect'
import type { Shelf } from '../store/shelf'
import { defineRoute, idOf, MANY_ROWS_BYTES, readJson } from './route'

type Any = Shelf<{ name: string }>

export const readFrom = (shelf: Any) => defineRoute(event => shelf.read(store(), idOf(event, shelf.kind)))

/** @param read makes sure that it is one; @throws Refusal that says what is wrong with it */
export const keepOn = <D extends { name: string }>(shelf: Shelf<D>, read: (text: string) => D) =>
  defineRoute(async event => {
    const id = idOf(event, shelf.kind)
    const document = read(JSON.stringify(await readJson(event, z.unknown(), MANY_ROWS_BYTES)))
    await shelf.write(store(), id, document)
    return { id, name: document.name }
  })

export const removeFrom = (shelf: Any) =>
  defineRoute(async event => {
    await shelf.remove(store(), idOf(event, shelf.kind))
    return { removed: true }
  })

export const restoreTo = (shelf: Any) =>
  defineRoute(async event => {
    await shelf.restore(store(), idOf(event, shelf.kind))
    return { restored: true }
  })
