import { findColumns } from '#core/build/listColumns.ts'
import { partKey } from '#core/build/partsList.ts'
import { addDays } from '#core/calendar/days.ts'
import { addAlternate, changeCosting, createCosting } from '#server/build/costingActs.ts'
import { type BuildCostingRow, knownCosting } from '#server/build/costingStore.ts'
import { writeNote } from '#server/files/noteActs.ts'
import { readGrid } from '#server/formats/cells.ts'
import { importItems } from '#server/request/importItems.ts'
import { moment } from '#demo/load.ts'
import type { Team } from '#demo/runThread.ts'

/** Parts that only skids are built of: among them seal rings that are sold by the thousand, tubing by the metre and on reels, a pump and a sensor that are not made any more. */
const PARTS = `
number;name;category;unit;supplier;supplier_item;sold_in;currency;price;price_base;minimum;multiple;lead_time_days;tiers;maker;maker_number;packs;discontinued_on;replaced_by;in_stock
SR-1212;Seal ring 12 mm, EPDM;Fasteners;C62;Ferrolund Fastenings;FESR1212;C62;EUR;286;100;2000;500;9;;Ferrolund;FR-12-E;;;;12000
SR-1213;Seal ring 12 mm, EPDM, cut;Fasteners;C62;Marlowe Laboratory Supply;MASR1213;C62;GBP;1.35;1;1;1;4;;Marlowe;M-SR12;;;;400
GL-1220;Cable gland M20;Fasteners;C62;Ferrolund Fastenings;FEGL1220;C62;EUR;74;100;100;50;6;1000=66;Ferrolund;FG-20;;;;
GL-1220;Cable gland M20;Fasteners;C62;Orrin Valve Company;ORGL1220;C62;USD;0.92;1;10;10;12;;Ferrolund;FG-20;;;;
FS-1310;Flow sensor DN 32, new type;Probes & dosing;C62;Toshima Probe Works;TOFS1310;C62;JPY;41200;1;1;1;25;10=38900;Toshima Probe Works;TF-1310;;;;
FS-1310;Flow sensor DN 32, new type;Probes & dosing;C62;Nordhavn Pumpeverk;NOFS1310;C62;EUR;268;1;1;1;14;;Toshima Probe Works;TF-1310;;;;
FS-1290;Flow sensor DN 32;Probes & dosing;C62;;;;;;;;;;;Toshima Probe Works;TF-1290;;2026-03-31;FS-1310;
CP-1190;Circulation pump 6 m³/h, bronze;Pumps;C62;;;;;;;;;;;Nordhavn Pumpeverk;NH-1190;;2026-01-31;CP-1220;
TB-1208;Silicone tubing 8 mm;Valves & pipe;MTR;Orrin Valve Company;ORTB1208;MTR;USD;1.84;1;1;1;12;;Orrin;OT-8;XRL=50;;;
TB-1208;Silicone tubing 8 mm;Valves & pipe;MTR;Orrin Valve Company;ORTB1208R;XRL;USD;62;1;1;1;8;4=57;Orrin;OT-8;XRL=50;;;
RL-1224;Relay 24 V, plug-in;Probes & dosing;C62;Toshima Probe Works;TORL1224;C62;JPY;1480;1;5;5;20;50=1290;Toshima Probe Works;TR-24;;;;
RL-1224;Relay 24 V, plug-in;Probes & dosing;C62;Brightwater Diving;BRRL1224;C62;EUR;10.4;1;1;1;7;;Toshima Probe Works;TR-24;;;;60
TE-1250;Terminal block 4 mm²;Fasteners;C62;Ferrolund Fastenings;FETE1250;BX;EUR;41;1;1;1;6;10=36;Ferrolund;FT-4;BX=50;;;
MG-1201;Pressure gauge 0–6 bar;Valves & pipe;C62;Orrin Valve Company;ORMG1201;C62;USD;18.6;1;1;1;12;25=16.9;Orrin;OG-6;;;;
CV-1232;Non-return valve 32 mm;Valves & pipe;C62;Orrin Valve Company;ORCV1232;C62;USD;29.4;1;1;1;12;20=27.1;Orrin;OC-32;;;;
VB-1201;Vibration damper M8;Fasteners;C62;Ferrolund Fastenings;FEVB1201;C62;EUR;3.9;1;20;20;6;100=3.3;Ferrolund;FV-8;;;;
`.trim()

/** The list as the workshop's drawing program writes it: a title, two rows of headings, levels, decimal commas, a total at the end. */
export const SKID_LIST = `
Life-support skid;;;;;;;
Drawing 26-0410, rev. C;;;;;;;
Level;Part no.;Designation;Qty;Unit;Maker;Maker's number;Pos.
;;;per build;;;;
1;SKID-26;Life-support skid;1;pcs;;;
2;SK-PUMP;Pump unit;1;pcs;;;1
3;CP-1220;Circulation pump 6 m³/h;1;pcs;;;1.1
3;CP-1190;Circulation pump 6 m³/h, bronze (bypass);1;pcs;Nordhavn Pumpeverk;NH-1190;1.2
3;PS-1200;Mounting set, titanium;2;pcs;;;1.3
3;PS-1220;Shaft seal set;2;pcs;;;1.4
3;SR-1212;Seal ring 12 mm, EPDM;4;pcs;Ferrolund;FR-12-E;1.5
3;VB-1201;Vibration damper M8;8;pcs;;;1.6
3;FA-1200;Hex bolt A4 M8×40;16;pcs;;;1.7
3;FA-1240;Nut A4 M8;16;pcs;;;1.8
3;FA-1260;Washer A4 M8;32;pcs;;;1.9
3;CV-1232;Non-return valve 32 mm;2;pcs;;;1.10
3;PS-1240;Impeller 12 m³/h (spare);1;pcs;;;1.11
3;PS-1260;Motor bearing pair;2;pcs;;;1.12
2;SK-UV;UV unit;1;pcs;;;2
3;UV-1220;UV steriliser 80 W;2;pcs;;;2.1
3;UL-1200;UV lamp 80 W;2;pcs;;;2.2
3;UL-1240;Quartz sleeve 80 W;2;pcs;;;2.3
3;SR-1212;Seal ring 12 mm, EPDM;4;pcs;Ferrolund;FR-12-E;2.4
3;PT-1240;PVC-U union 32 mm;4;pcs;;;2.5
3;BV-1240;Ball valve PVC-U 32 mm;2;pcs;;;2.6
2;SK-HEAT;Heat unit;1;pcs;;;3
3;HX-1200;Titanium heat exchanger 15 kW;1;pcs;;;3.1
3;HS-1200;Gasket set;1;pcs;;;3.2
3;HS-1220;Sacrificial anode;2;pcs;;;3.3
3;HS-1240;Temperature sensor sleeve;2;pcs;;;3.4
3;PR-1280;Temperature probe;2;pcs;;;3.5
3;BV-1260;Ball valve PVC-U 50 mm;2;pcs;;;3.6
2;SK-SKIM;Skimming unit;1;pcs;;;4
3;SK-1220;Protein skimmer for 8 m³;1;pcs;;;4.1
3;TB-1208;Silicone tubing 8 mm;14,5;m;;;4.2
3;BV-1200;Ball valve PVC-U 20 mm;3;pcs;;;4.3
3;FM-1220;Bag filter 100 µm;4;pcs;;;4.4
3;FM-1240;Cartridge 5 µm;4;pcs;;;4.5
3;FM-1200;Drum filter screen 40 µm;1;pcs;;;4.7
3;SR-1212;Seal ring 12 mm, EPDM;4;pcs;Ferrolund;FR-12-E;4.6
2;SK-DOSE;Dosing unit;1;pcs;;;5
3;DU-1220;Dosing unit, double head;1;pcs;;;5.1
3;PR-1200;pH probe;1;pcs;;;5.2
3;PR-1220;ORP probe;1;pcs;;;5.3
3;PR-1240;Conductivity probe;1;pcs;;;5.4
3;PR-1260;Oxygen probe, optical;1;pcs;;;5.5
3;TB-1208;Silicone tubing 8 mm;6,25;m;;;5.6
3;BU-1200;Buffer solution pH 4;1;pcs;;;5.7
3;BU-1220;Buffer solution pH 7;1;pcs;;;5.8
3;BU-1240;Buffer solution pH 10;1;pcs;;;5.10
3;BU-1260;Conductivity standard 50 mS;1;pcs;;;5.9
2;SK-CTRL;Control box;1;pcs;;;6
3;;Control box, welded, IP65;1;pcs;;;6.1
3;RL-1224;Relay 24 V, plug-in;12;pcs;;;6.2
3;TE-1250;Terminal block 4 mm²;46;pcs;;;6.3
3;GL-1220;Cable gland M20;18;pcs;;;6.4
3;FS-1290;Flow sensor DN 32;2;pcs;Toshima Probe Works;TF-1290;6.5
3;;Wiring harness, skid 26;1;pcs;;;6.6
2;SK-PIPE;Pipework;1;pcs;;;7
3;PP-1220;PVC-U pipe 32 mm;14,5;m;;;7.1
3;PP-1240;PVC-U pipe 50 mm;6;m;;;7.2
3;PP-1200;PVC-U pipe 20 mm;3,2;m;;;7.3
3;PP-1260;PVC-U pipe 90 mm;2,4;m;;;7.11
3;PT-1200;PVC-U elbow 32 mm;14;pcs;;;7.4
3;PT-1220;PVC-U tee 32 mm;6;pcs;;;7.5
3;PT-1240;PVC-U union 32 mm;8;pcs;;;7.6
3;PT-1260;PVC-U flange 90 mm;2;pcs;;;7.7
3;BV-1220;Ball valve PVC-U 25 mm;4;pcs;;;7.8
3;BV-1240;Ball valve PVC-U 32 mm;6;pcs;;;7.9
3;BV-1280;Ball valve PVC-U 63 mm;2;pcs;;;7.12
3;BV-1300;Ball valve PVC-U 90 mm;2;pcs;;;7.13
3;MG-1201;Pressure gauge 0–6 bar;3;pcs;;;7.10
2;SK-FRAME;Frame;1;pcs;;;8
3;;Frame, stainless, 1.8 × 0.9 m;1;pcs;;;8.1
3;FA-1220;Hex bolt A4 M10×60;24;pcs;;;8.2
3;FA-1280;Anchor A4 M12×110;8;pcs;;;8.3
3;FA-1300;Threaded rod A4 M8, 1 m;4;pcs;;;8.4
3;AP-1240;Acrylic bonding kit;1;pcs;;;8.5
Total;;;;;;;
`.trim()

/** Days ago on which the skid was costed, and its parts were listed. */
const COSTED = -14
const LISTED = -30
export const SENDER = 'Workshop, drawing 26'

/** The skid of the series, costed two weeks ago for eight; since then one price has changed. */
export async function addSkid(team: Team): Promise<void> {
  const { as } = team
  const day = (count: number): string => moment(addDays(team.today, count), 10, team.now)
  const take = (at: string, text: string): Promise<void> =>
    as('pilar', at, async call => {
      const result = await importItems(call, Buffer.from(text), false)
      if (result.faultCount > 0)
        throw new Error(`The parts of the skid do not load: ${JSON.stringify(result.faults[0])}`)
    })
  await take(day(LISTED), PARTS)
  const pasted = SKID_LIST
  const { columns, firstRow } = findColumns(await readGrid(Buffer.from(pasted)))
  const how = { columns, firstRow }
  const id = await as('joren', day(COSTED), async call => {
    const made = await createCosting(call, {
      sender: SENDER,
      fileId: null,
      pasted,
      title: 'Life-support skid, revision C',
      how,
      builds: 8,
    })
    const item = async (number: string): Promise<string> => (await call.trx('items').where({ number }).first('id'))!.id
    const { lines, row } = await knownCosting(call, made.id)
    const keyOf = (number: string): string => partKey(lines.find(line => line.number === number)!)
    const seal = { version: 1, key: keyOf('SR-1212'), itemId: await item('SR-1213'), take: false }
    const { version } = await addAlternate(call, made.id, seal)
    const settings: BuildCostingRow['settings'] = {
      ...row.settings,
      wastageByCategory: { 'Valves & pipe': { percent: '3', pieces: '0' }, Fasteners: { percent: '5', pieces: '0' } },
    }
    const beside = [{ name: 'all by the quickest', settings: { ...settings, policy: 'earliest' as const } }]
    const { parts } = await knownCosting(call, made.id).then(one => one.row)
    await changeCosting(call, made.id, {
      version,
      title: row.title,
      settings,
      parts: { ...parts, [keyOf('FA-1200')]: { onHand: '60' } },
      beside,
    })
    return made.id
  })
  await take(
    day(-3),
    PARTS.split('\n')
      .filter(row => /^number|TOFS1310|ORGL1220/.test(row))
      .join('\n')
      .replace('41200', '43900')
      .replace(';0.92;', ';0.88;'),
  )
  const text = 'The control box and the frame have no price yet: the welder has to be asked.'
  await as('joren', day(COSTED), call => writeNote(call, { documentKind: 'costing', documentId: id, text }))
}
