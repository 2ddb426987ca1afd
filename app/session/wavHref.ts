// Where audio of a session is to be had as a WAV file.

/** @param offsite between two marks, for a pass outside */
export const wavHref = (session: string, medium: string, depth: string, offsite = false): string =>
  `/api/sessions/${encodeURIComponent(session)}/wav?${new URLSearchParams({ ...(offsite ? { offsite: '1' } : {}), medium, depth })}`
