// Ids, made where the gesture is made.
export { orderAfter as orderAtEnd, orderAt, ordersAfter as ordersAtEnd } from '@nullet/core/session/order'

export const newId = (prefix = ''): string => `${prefix}${crypto.randomUUID().replaceAll('-', '').slice(0, 14)}`
export const newIds = (n: number): string[] => Array.from({ length: n }, () => newId())
