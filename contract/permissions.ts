export const PERMISSIONS = [
  'supplier.read',
  'supplier.write',
  'supplier.prove',
  'catalogue.read',
  'catalogue.write',
  'requisition.write',
  'requisition.readAll',
  'requisition.decide',
  'requisition.passOn',
  'order.read',
  'order.write',
  'delivery.read',
  'delivery.receive',
  'invoice.read',
  'invoice.write',
  'hold.clear',
  'payment.read',
  'payment.propose',
  'payment.approve',
  'budget.read',
  'audit.run',
  'setup.read',
  'setup.write',
  'supplierPages.use',
  'demo.read',
] as const
export type Permission = (typeof PERMISSIONS)[number]

const EVERYBODY: Permission[] = ['catalogue.read', 'requisition.write', 'supplier.read', 'delivery.read', 'budget.read', 'demo.read']

/** Roles as they are first set up; a role is nothing but its permissions. Supplier people live in their own realm. */
export const ROLES = {
  requester: EVERYBODY,
  budgetHolder: [...EVERYBODY, 'requisition.decide', 'order.read'],
  buyer: [...EVERYBODY, 'supplier.write', 'catalogue.write', 'requisition.readAll', 'order.read', 'order.write', 'invoice.read', 'hold.clear'],
  sourcingLead: [...EVERYBODY, 'supplier.write', 'catalogue.write', 'requisition.readAll', 'order.read', 'order.write'],
  receiver: [...EVERYBODY, 'order.read', 'delivery.receive'],
  invoiceClerk: [...EVERYBODY, 'order.read', 'invoice.read', 'invoice.write', 'hold.clear', 'payment.read'],
  treasurer: [...EVERYBODY, 'invoice.read', 'payment.read', 'payment.propose', 'payment.approve', 'supplier.prove'],
  financeController: [
    ...EVERYBODY,
    'requisition.decide',
    'requisition.readAll',
    'order.read',
    'invoice.read',
    'payment.read',
    'payment.approve',
    'supplier.prove',
    'audit.run',
    'setup.read',
  ],
  director: [...EVERYBODY, 'requisition.decide', 'requisition.readAll', 'order.read', 'invoice.read', 'payment.read', 'payment.approve'],
  steward: [...EVERYBODY, 'requisition.readAll', 'requisition.passOn', 'order.read', 'audit.run', 'setup.read', 'setup.write'],
  supplierSales: ['supplierPages.use'],
} as const satisfies Record<string, readonly Permission[]>
export type RoleCode = keyof typeof ROLES
