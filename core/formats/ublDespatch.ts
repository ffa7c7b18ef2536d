import { childrenOf, find, parseXml, textAt } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

const DESPATCH = 'urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2'

/** What a despatch advice says, as text; nothing is computed or corrected. */
export interface DespatchText {
  readonly number: string
  readonly orderNumber: string
  readonly issueDate: string
  readonly arrivesOn: string
  readonly carrier: string
  readonly tracking: string
  readonly note: string
  readonly packages: readonly { readonly kind: string; readonly sscc: string; readonly weight: string }[]
  readonly lines: readonly {
    readonly orderLine: string
    readonly quantity: string
    readonly unit: string
    readonly batch: string
    readonly bestBefore: string
    readonly serials: readonly string[]
    readonly sellerItem: string
  }[]
}

/**
 * Reads a UBL 2.1 DespatchAdvice (OASIS UBL 2.1, 3.2.15).
 *
 * @throws RuleBroken xml.* | despatch.notOne where the root is another document
 */
export function readUblDespatch(text: string): DespatchText {
  const root = parseXml(text)
  if (root.name !== 'DespatchAdvice' || root.namespace !== DESPATCH)
    throw new RuleBroken(stop('despatch.notOne', { root: root.name.slice(0, 40) }))
  const shipment = find(root, 'Shipment')
  const lines = childrenOf(root, 'DespatchLine')
  return {
    number: textAt(root, 'ID'),
    orderNumber: textAt(root, 'OrderReference', 'ID') || textAt(lines[0], 'OrderLineReference', 'OrderReference', 'ID'),
    issueDate: textAt(root, 'IssueDate'),
    arrivesOn:
      textAt(shipment, 'Delivery', 'EstimatedDeliveryPeriod', 'EndDate') ||
      textAt(shipment, 'Delivery', 'EstimatedDeliveryPeriod', 'StartDate') ||
      textAt(shipment, 'Delivery', 'RequestedDeliveryPeriod', 'EndDate'),
    carrier: textAt(shipment, 'Consignment', 'CarrierParty', 'PartyName', 'Name') || textAt(shipment, 'ShipmentStage', 'CarrierParty', 'PartyName', 'Name'), // prettier-ignore
    tracking: textAt(shipment, 'Delivery', 'TrackingID') || textAt(shipment, 'Consignment', 'ID'),
    note: textAt(root, 'Note'),
    packages: childrenOf(shipment, 'TransportHandlingUnit').map(unit => ({
      kind: textAt(unit, 'TransportHandlingUnitTypeCode') || textAt(unit, 'ActualPackage', 'PackagingTypeCode'),
      sscc: textAt(unit, 'ID'),
      weight: textAt(unit, 'MeasurementDimension', 'Measure'),
    })),
    lines: lines.map(line => {
      const item = find(line, 'Item')
      const instances = childrenOf(item, 'ItemInstance')
      return {
        orderLine: textAt(line, 'OrderLineReference', 'LineID'),
        quantity: textAt(line, 'DeliveredQuantity'),
        unit: find(line, 'DeliveredQuantity')?.attributes.unitCode ?? '',
        batch: textAt(instances[0], 'LotIdentification', 'LotNumberID'),
        bestBefore: textAt(instances[0], 'BestBeforeDate') || textAt(instances[0], 'LotIdentification', 'ExpiryDate'),
        serials: instances.map(one => textAt(one, 'SerialID')).filter(Boolean),
        sellerItem: textAt(item, 'SellersItemIdentification', 'ID'),
      }
    }),
  }
}
