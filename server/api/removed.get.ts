import { store } from '../store/connect'
import { listRemoved } from '../store/removed'
import { defineRoute } from '../utils/route'

/** What was removed and can be brought back. */
export default defineRoute(() => listRemoved(store()))
