import { expect, type Page } from '@playwright/test'

/** A pack of three sets that is meant for two apps, released and given to one person, whose link it is; its people are shown. */
export async function handOutForApps(page: Page, url: string, sets = /Kelp|Feather|Shell/): Promise<string> {
  const ask = async <Body>(method: string, path: string, data?: object): Promise<Body> => {
    const answer = await page.request.fetch(`${url}/api${path}`, {
      method,
      data,
      headers: { origin: url },
    })
    expect(answer.ok(), `${path}: ${await answer.text()}`).toBe(true)
    return (await answer.json()) as Body
  }
  const { sets: all } = await ask<{ sets: { id: string; name: string; starter: boolean }[] }>('GET', '/sets')
  const chosen = all.filter(({ name, starter }) => !starter && sets.test(name))
  const { id } = await ask<{ id: string }>('POST', '/packs', {
    title: 'Wrack',
    maker: 'Tidewrack Studio',
    licence: 'CC-BY-4.0',
  })
  await ask('PUT', `/packs/${id}/sets`, { setIds: chosen.map((set) => set.id) })
  await ask('PATCH', `/packs/${id}`, { destinationIds: ['dunlin', 'shearwater'] })
  const release = await ask<{ id: string }>('POST', `/packs/${id}/releases`, { version: '1.0.0', notes: '' })
  type Pack = { releases: { state: string }[] }
  const state = async () => (await ask<Pack>('GET', `/packs/${id}`)).releases[0]?.state
  await expect.poll(state, { timeout: 400_000, intervals: [1000] }).toBe('ready')
  const wish = { releaseId: release.id, name: 'Fenn Merrow' }
  const { link } = await ask<{ link: string }>('POST', `/packs/${id}/hand-outs`, wish)
  await page.goto(`${url}/hand-out/${id}/people`)
  return link
}
