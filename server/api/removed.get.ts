import { store } from '../store/connect'
import { removedSessions } from '../store/sessions'
import { defineRoute } from '../utils/route'

/** Sessions that were removed and can be brought back. */
export default defineRoute(() => removedSessions(store()))
