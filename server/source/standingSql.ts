const CURRENT = "select 1 from supplier_certificates c where c.supplier_id = suppliers.id and c.state = 'current'"
const RULES = 'supply_categories k cross join lateral jsonb_array_elements(k.certificates) rule where k.name = any(suppliers.categories)'

/** Suppliers by how their certificates stand on a day: the same meaning as `ruleStanding` of the core, for lists. */
export const STANDINGS_SQL: Readonly<Record<string, string>> = {
  lapsed: `exists (${CURRENT} and c.valid_to < :today)`,
  soon: `exists (${CURRENT} and c.valid_to between :today and :today::date + 60)`,
  holds: `exists (${CURRENT} and c.valid_from <= :today and (c.valid_to is null or c.valid_to >= :today))`,
  missing: `exists (select 1 from ${RULES} and not exists (${CURRENT} and c.kind = rule ->> 'kind' and c.category in ('', k.name)))`,
}
