import { z } from 'zod'

/** A file of the format quote-award-instance, version 1. Whether its figures can be meant says the core. */
export const InstanceJson = z.object({
  format: z.literal('quote-award-instance'),
  version: z.literal(1),
  lines: z.array(z.object({ id: z.string(), demand: z.number() })),
  suppliers: z.array(
    z.object({
      id: z.string(),
      local: z.boolean().default(false),
      fixedCharge: z.number().default(0),
      rebates: z.array(z.object({ minSpend: z.number(), rateBp: z.number() })).default([]),
    }),
  ),
  bids: z.array(
    z.object({
      line: z.string(),
      supplier: z.string(),
      capacity: z.number(),
      moq: z.number().default(0),
      tiers: z.array(z.object({ minQty: z.number(), unitPrice: z.number() })),
    }),
  ),
  rules: z
    .object({
      maxSuppliers: z.number().nullish(),
      minLocalShareBp: z.number().nullish(),
      maxSupplierShareBp: z.number().nullish(),
    })
    .default({}),
})
