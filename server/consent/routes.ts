import * as consent from '#contract/consent/endpoints.ts'
import { ReadDecideSettings, SaveDecideSettings } from '#contract/consent/settings.ts'
import { endAway, readAway, saveAway } from '#server/consent/awayActs.ts'
import { readDecideSettings, saveDecideSettings } from '#server/consent/settingsActs.ts'
import { reads, type Route, writes } from '#server/http/route.ts'

export const consentRoutes: Route[] = [
  reads(consent.ReadAway, call => readAway(call)),
  writes(consent.SaveAway, (call, { params, body }) => saveAway(call, params.id, body)),
  writes(consent.EndAway, (call, { params }) => endAway(call, params.id)),
  reads(ReadDecideSettings, call => readDecideSettings(call)),
  writes(SaveDecideSettings, (call, { body }) => saveDecideSettings(call, body)),
]
