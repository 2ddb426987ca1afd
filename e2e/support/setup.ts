// Raises the stage once for all tests of the server and of the browser.
import type { TestProject } from 'vitest/node'
import type {} from './context'
import { raise } from './stage'

export default async function setup(project: TestProject) {
  const stage = await raise(Number(process.env.NULLET_DEMO_SECONDS ?? 12))
  project.provide('stage', { url: stage.url, database: stage.database })
  return () => stage.fall()
}
