import { type Party } from '#core/source/match.ts'

/**
 * Invented pairs of supplier records with the answer a person gives: `=` the same supplier, `x` two suppliers. One record is a name and
 * what is known beside it: a country in two letters, p: postcode, c: place, s: street, v: VAT number, r: registration number, l: LEI,
 * w: web domain, i: account, t: another name it trades under.
 */
const PAIRS = `
= Nordhavn Pumpeverk AS; NO p:9998 c:Nordhavn | NORDHAVN PUMPEVERK; NO c:Nordhavn
= Nordhavn Pumpeverk A/S; NO c:Nordhavn | Nordhavn Pumpeverk AS; NO p:9998
= Krillfisk Samvirke SA; NO c:Havnsund | Krillfisk Samvirke; NO p:9999 c:Havnsund
= Krillfisk Samvirke; NO | KRILLFISK SAMVIRKE; NO
= Krilfisk Samvirke; NO c:Havnsund | Krillfisk Samvirke SA; NO c:Havnsund
= Aldis Membranes Ltd; GB p:WX9 9ZZ | ALDIS Membrane Ltd.; GB p:WX99ZZ
= Aldis Membranes; GB p:WX9 9ZZ c:Wexcombe | Membranes, Aldis Limited; GB c:Wexcombe
= Aldis Membranes Limited; GB | ALDIS MEMBRANES LTD; GB w:aldis.example
= Peltier & Soane Acrylics GmbH; DE c:Neufeldsund | Peltier und Soane Acrylics G.m.b.H.; DE c:Neufeldsund
= Peltier & Soane Acrylics; DE p:99999 | Peltier and Soane Acrylics GmbH; DE p:99999
= Peltier + Soane Acrylics GmbH; DE | Peltier Soane Acrylics; DE p:99999
= Müller Meerestechnik GmbH; DE c:Brunshafen | Mueller Meerestechnik; DE c:Brunshafen
= Müller Meerestechnik; DE p:99998 | Muller Meerestechnik GmbH; DE p:99998
= Gebr. Möhlenkamp KG; DE c:Aalsiel | Gebrüder Moehlenkamp; DE c:Aalsiel
= Größe & Söhne Tankbau GmbH & Co. KG; DE p:99997 | Groesse und Soehne Tankbau; DE p:99997
= Groesse & Soehne Tankbau; DE | GRÖSSE & SÖHNE TANKBAU GMBH & CO. KG; DE
= Weißfluh Kältetechnik AG; CH c:Seewilen | Weissfluh Kaeltetechnik; CH c:Seewilen
= Coldline Titanium AG; CH p:9999 | Coldline Titanium; CH p:9999 c:Seewilen
= Coldline Titanium SA; CH | Coldline Titanium AG; CH p:9999 w:coldline.example
= Klarwasser Prüflabor Hennings; DE c:Brunshafen | Klarwasser Prueflabor Hennings e.K.; DE c:Brunshafen
= Klarwasser Prüflabor Hennings; DE | Prüflabor Klarwasser Hennings; DE p:99998
= Salines du Grand Pré-Vert SARL; FR p:17999 | Salines du Grand Pre Vert; FR p:17999
= Salines du Grand Pré-Vert; FR c:Pré-Vert | SALINES DU GRAND PREVERT S.A.R.L.; FR c:Pre-Vert
= Salines du Grand Pré-Vert; FR | Salines Grand Pré-Vert SARL; FR p:17999 w:salines.example
= Établissements Coquelin SA; FR c:Lannevez | Ets Coquelin; FR c:Lannevez
= Œuvres de Mer Tanguy SAS; FR | Oeuvres de Mer Tanguy; FR p:29999
= L'Algue d'Or SAS; FR c:Roscanvel-Nord | Lalgue Dor; FR c:Roscanvel-Nord
= L’Atelier de la Grève; FR p:29998 | L'Atelier de la Greve SARL; FR p:29998
= Levende Rotiferen Kwekerij B.V.; NL p:9999ZZ | Levende Rotiferenkwekerij BV; NL p:9999 ZZ
= Levende Rotiferen Kwekerij; NL c:Zoutkamp-Noord | Kwekerij Levende Rotiferen; NL c:Zoutkamp-Noord
= Tidewind Printers BV; NL c:Saltmere | Tidewind Printer; NL c:Saltmere
= Tidewind Printers; NL p:4380ZZ | Tidewnd Printers B.V.; NL p:4380 ZZ
= Nightlamp Guarding B.V.; NL c:Fennick | Nightlamp Guarding; NL c:Fennick
= Kroonvis V.O.F.; NL p:4301AA | Kroonvis VOF; NL p:4301 AA
= Kroonvis BV; NL c:Brouwershaven-Oost | Kroon Vis B.V.; NL c:Brouwershaven-Oost
= De Zilte Hoek BV; NL c:Wemelzand | Zilte Hoek, De; NL c:Wemelzand
= Van der Meulenbroek Pompen BV; NL p:3199ZX | vd Meulenbroek Pompen; NL p:3199ZX
= Highreach Crane Hire ApS; DK c:Kransund | Highreach Cranehire; DK c:Kransund
= Highreach Crane Hire; DK p:9999 | HIGH REACH CRANE HIRE APS; DK p:9999
= Østersø Rør A/S; DK c:Mørkhavn | Oestersoe Roer; DK c:Moerkhavn
= Østersø Rør; DK | Ostersø Ror AS; DK p:4999 c:Mørkhavn
= Smørehallen I/S; DK c:Ringholm | Smorehallen IS; DK c:Ringholm
= Ferrolund Fastenings AB; SE c:Ferrolund | Ferrolund Fastening; SE c:Ferrolund
= Ferrolund Fastenings; SE p:99999 | Fastenings Ferrolund Aktiebolag; SE p:999 99
= Sjöbrisens Plåt HB; SE c:Klippan-Norra | Sjobrisens Plat; SE c:Klippan-Norra
= Sjöbrisens Plåt; SE p:28999 | Sjoebrisens Plaat Handelsbolag; SE p:289 99
= Merilaite Oy; FI c:Uusisalmi | Merilaite; FI c:Uusisalmi
= Oy Merilaite Ab; FI | Merilaite Oy; FI p:99991
= Jääkarhu Kylmälaite Oyj; FI c:Pohjanranta | Jaakarhu Kylmalaite; FI c:Pohjanranta
= Brightwater Diving Ltd; IE c:Ballinroe | Bright Water Diving Limited; IE c:Ballinroe
= Brightwater Diving; IE p:Z99Z999 | Brightwater Dving; IE p:Z99 Z999
= Ropeline Access Crew; IE c:Carrowbeg | Rope Line Access Crew Ltd; IE c:Carrowbeg
= Marlowe Laboratory Supply Ltd; GB c:Estermouth | Marlowe Lab Supplies; GB c:Estermouth
= Marlowe Laboratory Supply; GB | Marlowe Labs Supply Limited; GB p:ES9 9ZZ w:marlowe.example
= Puffin & Parcel Gifts; GB p:LS9 9ZZ | Puffin and Parcel Gift Ltd; GB p:LS99ZZ
= Puffin & Parcel Gifts Ltd; GB c:Lowstrand | PUFFIN&PARCEL GIFTS; GB c:Lowstrand
= Orrin Valve Company; US c:Port Orrin | Orrin Valve Co.; US c:Port Orrin
= Orrin Valve Co Inc; US p:99999 | ORRIN VALVE COMPANY; US p:99999
= Orrin Valves Inc.; US c:Port Orrin | Orrin Valve Corporation; US c:Port Orrin
= St. Elspeth Boat Works LLC; US c:Gull Harbor | Saint Elspeth Boatworks; US c:Gull Harbor
= Tern Intl Mfg Co; US p:98999 | Tern International Manufacturing; US p:98999
= Toshima Probe Works KK; JP c:Toshima-minami | Toshima Probe Works; JP c:Toshima-minami
= Kabushiki Kaisha Toshima Probe Works; JP | TOSHIMA PROBE WORKS K.K.; JP p:999-9999
= Toshima Probeworks Co., Ltd.; JP c:Toshima-minami | Toshima Probe Works; JP c:Toshima-minami
= Quickbrine Trading Lda; PT c:Salgueira | Quick Brine Trading; PT c:Salgueira
= Quickbrine Trading; PT p:9999-999 | Quickbrine Trading, Unipessoal Lda.; PT p:9999999
= Salgado & Irmãos Lda; PT c:Salgueira | Salgado e Irmaos, Limitada; PT c:Salgueira
= Conservas São Telmo SA; PT | Conservas Sao Telmo; PT p:8799-001
= Hermanos Brañaverde S.L.; ES c:Puertolargo | Hnos Branaverde; ES c:Puertolargo v:ES1
= Brañaverde Redes SL; ES p:15999 | BRANAVERDE REDES S.L.U.; ES p:15999
= Aguas y Sales del Cabo SA; ES c:Cabomayor | Aguas & Sales del Cabo; ES c:Cabomayor
= Acquanera Impianti S.r.l.; IT c:Portovero | Acqua Nera Impianti SRL; IT c:Portovero
= Acquanera Impianti; IT p:19999 | Impianti Acquanera S.p.A.; IT p:19999
= Fratelli Sorbolongo Snc; IT c:Lidonero | Sorbolongo Fratelli; IT c:Lidonero
= Włókna Bałtyk Sp. z o.o.; PL c:Morzewo | Wlokna Baltyk; PL c:Morzewo
= Włókna Bałtyk; PL p:81-999 | WLOKNA BALTYK SPZOO; PL p:81999
= Żaglowiec Liny S.A.; PL | Zaglowiec Liny; PL p:72-999 c:Dziwnowek
= Морская Соль ООО; RU c:Северокамск | OOO Morskaya Sol; RU c:Severokamsk
= ООО «Морская соль»; RU | Morskaja Sol OOO; RU p:183999
= Полярный Насос АО; RU c:Мурмаш | Polyarny Nasos; RU c:Murmash
= Полярный Насос; RU | AO Polyarnyy Nasos; RU w:nasos.example
= Чистая Вода Юг ООО; RU | Chistaya Voda Yug; RU p:353999
= Харьковские Фильтры ТОВ; UA | Kharkovskie Filtry TOV; UA p:61999
= Черноморски Въжета ООД; BG c:Варнево | Chernomorski Vazheta OOD; BG c:Varnevo w:vazheta.example
= Θαλασσινό Αλάτι ΑΕ; GR c:Νέα Ακτή | Thalassino Alati AE; GR c:Nea Akti
= Θαλασσινό Αλάτι; GR | THALASSINO ALATI A.E.; GR p:57099
= Νότος Αντλίες ΕΠΕ; GR | Notos Antlies EPE; GR p:18599
= Βυθός Καταδύσεις ΙΚΕ; GR | Vythos Katadyseis; GR p:73199
= Φάρος Όργανα ΟΕ; GR | Faros Organa; GR c:Patra-Nea w:faros.example
= Halvorsen Tauverk; NO | Havlorsen Tauverk AS; NO p:6799
= Halvorsen Tauverk AS; NO p:6799 | Halvorsen Tau verk; NO p:6799
= Bjørnøya Tråd AS; NO | Bjornoya Trad; NO p:9170
= Bjørnøya Tråd; NO c:Nordhavn | Bjoernoeya Traad AS; NO c:Nordhavn
= Fyrlykt Elektro; NO v:NO1 | Fyrlykt Elektriske; NO v:NO1
= Fyrlykt Elektro AS; NO v:NO2 | Nordlys Holding AS; NO v:NO2 t:Fyrlykt Elektro
= Marehalm Verksted; NO i:NO93 | Marehalm Verkstd AS; NO i:NO93
= Ebbe & Flut Wasserbau; DE v:DE3 | Ebbe und Flut; DE v:DE3
= Ebbe & Flut Wasserbau GmbH; DE i:DE44 | Ebbe u. Flut Wasserbau; DE i:DE44
= Sturmvogel Segelmacher; DE w:sturmvogel.example | Segelmacherei Sturmvogel; DE w:sturmvogel.example c:Aalsiel
= Sturmvogel Segel GmbH; DE w:sturmvogel.example p:26999 | Sturmvogel Segelmacher; DE w:sturmvogel.example p:26999
= Lotsenhaus Messtechnik; DE r:HRB77 | Lotsenhaus Messtechnik GmbH; DE r:HRB77
= Lotsenhaus; DE r:HRB77 p:26990 | Lotsenhaus Messtechnik GmbH; DE r:HRB77
= Wattenmeer Kabel; DE l:LEI1 | Wattenmeer Kabelwerke AG; DE l:LEI1
= Tangwald Seile GmbH; DE p:24999 s:Hafenstraße 4 | Tangwald Seile; DE p:24999 s:Hafenstr. 4
= Tangwald Seile; DE s:Hafenstrasse 4 c:Aalsiel | Tangwald Seil GmbH; DE s:Hafenstraße 4 c:Aalsiel
= Bernsteiner Optik e.K.; DE c:Kliffhusen | Bernsteiner Optik; DE p:18999 c:Kliffhusen
= Robbenbank Druck; DE | Robenbank Druck; DE c:Robbenplate w:robbenbank.example
= Deichgraf Baustoffe; DE p:25999 | Deichgraf Bau-Stoffe GmbH; DE p:25999
= Priel Analytik Dr. Harmsen; DE | Priel Analytik; DE w:priel.example c:Kliffhusen
= Nordwind Funk AG; DE w:nordwindfunk.example | Nordwind Funktechnik; DE w:nordwindfunk.example
= Havfrue Tekstil ApS; DK v:DK4 | Havfruen Tekstil; DK v:DK4
= Havfrue Tekstil; DK p:5999 | Havfrue Textil ApS; DK p:5999
= Blåmusling Dambrug; DK | Blaamusling Dambrug ApS; DK p:7999
= Blåmusling Dambrug; DK c:Limvig | Blamusling Dambrug; DK c:Limvig
= Vestenvind Sejl; DK w:vestenvind.example | Vesten vind Sejl A/S; DK w:vestenvind.example
= Ørsnes Glas A/S; DK c:Ørsnes | Oersnes Glas; DK c:Oersnes
= Strandskaden Bogtryk; DK p:8399 | Bogtryk Strandskaden; DK p:8399
= Skärgårdens Filter AB; SE v:SE5 | Skargardens Filter; SE v:SE5
= Skärgårdens Filter; SE c:Utö-Norra | Skaergaardens Filter AB; SE c:Uto-Norra
= Måsens Rep AB; SE | Masens Rep; SE p:45699
= Älvsborgs Ventil AB; SE p:41999 | Alvsborgs Ventil; SE p:419 99
= Tångräkan Foder; SE i:SE35 | Tangrakan Foder AB; SE i:SE35
= Havsörnens Transport; SE c:Klippan-Norra | Havsornen Transport AB; SE c:Klippan-Norra
= Kustlinjen Kyl & Värme; SE | Kustlinjen Kyl och Värme AB; SE p:43999
= Saaristo Köysi Ky; FI c:Uusisalmi | Saaristo Koysi; FI c:Uusisalmi
= Hylje Huolto Oy; FI v:FI6 | Hylje-Huolto; FI v:FI6
= Meritähti Lasi Oy; FI p:20999 | Meritahti Lasi; FI p:20999
= Lokki Kuljetus; FI | Lokki Kuljetus Oy; FI w:lokki.example
= Goéland Ingénierie SAS; FR v:FR7 | Goeland Ingenierie; FR v:FR7
= Goéland Ingénierie; FR c:Lannevez | Goëland Ingenierie SAS; FR c:Lannevez
= Varech & Fils SARL; FR p:56999 | Varech et Fils; FR p:56999
= Varech et Fils; FR | VARECH & FILS; FR c:Port-Keravel
= Phare Ouest Électricité; FR i:FR14 | Phare-Ouest Electricite SARL; FR i:FR14
= Cie des Cordages Bretons; FR | Compagnie des Cordages Bretons; FR p:29997
= Menuiserie Kervadec; FR p:29996 | Kervadec Menuiserie EURL; FR p:29996
= Ostrea Laboratoires; FR w:ostrea.example | Ostrea Laboratoire SA; FR w:ostrea.example
= Marée Haute Imprimerie; FR c:Lannevez | Maree Haute Imprimrie; FR c:Lannevez
= Strandloper Techniek B.V.; NL v:NL8 | Strandloper Technieken; NL v:NL8
= Strandloper Techniek; NL p:4399AB | Strandlooper Techniek BV; NL p:4399 AB
= Zeekraal Groothandel; NL | Zeekraal Groothandel B.V.; NL c:Wemelzand
= Zeekraal Groothandel BV; NL i:NL20 | Groothandel Zeekraal; NL i:NL20
= Gebroeders Pieterman Scheepswerf; NL p:4501XX | Gebr. Pieterman Scheepswerf; NL p:4501XX
= Duinroos Schoonmaak; NL c:Saltmere | Duinroos Schoonmak BV; NL c:Saltmere
= Lepelaar Grafisch; NL w:lepelaar.example | Lepelaar Grafische; NL w:lepelaar.example
= 't Kokkeltje; NL p:4302BB | Kokkeltje; NL p:4302BB
= IJsvogel Koeling BV; NL c:Fennick | Ijsvogel Koeling; NL c:Fennick
= Aquafort Tanks NV; BE p:8999 | Aqua Fort Tanks; BE p:8999
= Aquafort Tanks; BE v:BE9 | Aquafort Tanks N.V.; BE v:BE9
= Garnaal & Zoon BVBA; BE | Garnaal en Zoon; BE c:Nieuwhaven
= Kelpie Rigging Ltd; GB v:GB10 | Kelpie Rigging Services; GB v:GB10
= Kelpie Rigging; GB p:AB99 9ZZ | Kelpie Riging Ltd; GB p:AB999ZZ
= Tarn & Fell Hydraulics; GB c:Estermouth | Tarn and Fell Hydraulics Ltd; GB c:Estermouth
= Tarn & Fell Hydraulics; GB | Tarn Fell Hydraulics; GB p:LA99 1ZZ
= Gannet Eng. Ltd; GB c:Lowstrand | Gannet Engineering; GB c:Lowstrand
= Cockle Row Joinery; GB p:LS9 8ZZ | Cocklerow Joinery; GB p:LS98ZZ
= J. Pellow & Sons; GB c:Wexcombe | Pellow & Sons; GB c:Wexcombe
= Pellow and Sons Ltd; GB p:WX9 1ZZ | J Pellow & Sons Limited; GB p:WX9 1ZZ
= Merrow Scientific plc; GB l:LEI2 | Merrow Scientific; GB l:LEI2
= Lugworm Tools; GB w:lugworm.example | Lugworm Tool Co; GB w:lugworm.example
= Selkie Wetsuits Ltd; IE v:IE11 | Selkie Wet Suits; IE v:IE11
= Dúlamán Teo; IE c:Carrowbeg | Dulaman Teo; IE c:Carrowbeg
= O'Sheehy Marine Ltd; IE | OSheehy Marine; IE p:Z97Z997
= Chandler O’Rourke; IE c:Ballinroe | Chandler O'Rourke Ltd; IE c:Ballinroe
= Grebe Instruments Inc; US v:US12 | Grebe Instrument; US v:US12
= Grebe Instruments; US p:04999 | Grebe Instruments, Inc.; US p:04999
= Sandpiper Sys LLC; US c:Gull Harbor | Sandpiper Systems; US c:Gull Harbor
= Kelp Brothers Co; US | Kelp Bros; US p:97999
= Anvil Point Steel Corp; US c:Port Orrin | Anvil Point Steel Corporation; US c:Port Orrin
= Mount Cutler Glass; US p:98998 | Mt Cutler Glass LLC; US p:98998
= Umineko Kagaku KK; JP v:JP13 | Umineko Kagaku; JP v:JP13
= Umineko Kagaku Kabushiki Kaisha; JP c:Minatogawa | Umi Neko Kagaku; JP c:Minatogawa
= Tsurugi Denki YK; JP p:998-9999 | Tsurugi Denki; JP p:9989999
= Cormorano Ottica S.r.l.; IT v:IT14 | Cormorano Ottica; IT v:IT14
= Cormorano Ottica; IT c:Portovero | Cormorano Otica Srl; IT c:Portovero
= Sale & Vento Soc. Coop.; IT p:91999 | Sale e Vento; IT p:91999
= Laboratorio Marea; IT w:marea.example | Marea Laboratorio SRL; IT w:marea.example
= Percebes Rías Altas SL; ES v:ES15 | Percebes Rias Altas; ES v:ES15
= Percebes Rías Altas; ES c:Puertolargo | Rías Altas Percebes S.L.; ES c:Puertolargo
= Cuerdas Ibáñez; ES p:20999 | Cuerdas Ibanez S.A.; ES p:20999
= Gaviota Áridos SA; ES i:ES91 | Gaviota Aridos; ES i:ES91
= Perna Velas Lda; PT v:PT16 | Perna Velas; PT v:PT16
= Búzio Gráfica; PT c:Salgueira | Buzio Grafica Lda; PT c:Salgueira
= Mewa Transport Sp. z o.o.; PL v:PL17 | Mewa Transport; PL v:PL17
= Mewa Transport; PL c:Morzewo | MEWA TRANSPORT SP. ZO.O.; PL c:Morzewo
= Łosoś Przetwórstwo; PL p:84-999 | Losos Przetworstwo SA; PL p:84999
= Alpensee Labor AG; CH v:CH18 | Alpensee Laboratory; CH v:CH18
= Alpensee Labor; CH p:9998 | Alpensee Labor GmbH; CH p:9998
= Glacier Bleu Sàrl; CH c:Vellaz | Glacier Bleu; CH c:Vellaz
= Northern Fulmar Freight; GB t:NFF Cargo | NFF Cargo; GB w:fulmar.example
= Skerry & Holm Insurance; GB | Skerry and Holm Insurance LLP; GB p:EC9 9ZZ
= Taucher Röhrich, Inh. K. Röhrich; DE p:23999 | Taucher Roehrich Inh K Roehrich; DE p:23999
= Ülker Tekne Ltd; DE c:Aalsiel | Uelker Tekne; DE c:Aalsiel
= Sealion 2000 Ltd; GB | Sea Lion 2000 Limited; GB p:PL9 9ZZ
= 3 Skippers Paint; GB p:PL9 8ZZ | 3-Skippers Paint Ltd; GB p:PL98ZZ
x Nordhavn Pumpeverk AS; NO | Nordhavn Shipping AS; NO
x Nordhavn Pumpeverk; NO c:Nordhavn | Nordhavn Bakeri; NO c:Nordhavn
x Nordhavn Pumpeverk AS; NO | Nordhavn Pumpeverk GmbH; DE
x Nordhavn Pumpeverk AS; NO v:NO1 | Nordhavn Pumpeverk Service AS; NO v:NO2 p:1999
x Krillfisk Samvirke; NO v:NO3 | Krillfisk Polar AS; NO v:NO4
x Krillfisk Samvirke; NO | Krillfisk Samvirke; IS
x Krillfisk AS; NO c:Havnsund | Kveitefisk AS; NO c:Havnsund
x Aldis Membranes Ltd; GB | Aldis Catering Ltd; GB
x Aldis Membranes; GB v:GB1 p:WX9 9ZZ | Aldis Membranes; GB v:GB2 p:AB1 1ZZ
x Aldis Membranes Ltd; GB | Aldis Membranes SARL; FR
x Aldis Membranes; GB | Alder Membranes; GB
x Aldis Ltd; GB p:WX9 9ZZ | Alvis Ltd; GB p:LS9 9ZZ
x Peltier & Soane Acrylics GmbH; DE | Peltier Kältetechnik GmbH; DE
x Peltier & Soane; DE | Soane & Whitlock; GB
x Müller Meerestechnik GmbH; DE c:Brunshafen | Müller Elektrotechnik GmbH; DE c:Kliffhusen
x Müller Meerestechnik; DE | Möller Meerestechnik; DE v:DE9 p:20999
x Müller GmbH; DE c:Brunshafen | Müller AG; CH c:Seewilen
x Bäckerei Müller; DE p:99998 | Schlosserei Müller; DE p:99998
x Gebr. Möhlenkamp KG; DE | Gebr. Ahlenkamp KG; DE
x Weißfluh Kältetechnik AG; CH | Weissenbach Kältetechnik AG; CH
x Coldline Titanium AG; CH | Coldline Titanium Ltd; GB
x Coldline Titanium; CH | Coldline Logistics; CH
x Klarwasser Prüflabor Hennings; DE | Klarwasser Schwimmbadtechnik; DE
x Klarwasser Prüflabor; DE c:Brunshafen | Klarluft Prüflabor; DE c:Brunshafen
x Salines du Grand Pré-Vert; FR | Salines du Petit Marais; FR
x Salines du Grand Pré-Vert SARL; FR | Salines du Grand Pré-Vert NV; BE
x Salines de l'Ouest; FR p:17999 | Salines de l'Est; FR p:57999
x Établissements Coquelin; FR | Établissements Jacquelin; FR
x Levende Rotiferen Kwekerij; NL | Levende Oesters Kwekerij; NL
x Tidewind Printers BV; NL | Tidewind Energy BV; NL
x Tidewind Printers; NL c:Saltmere | Headwind Printers; NL c:Saltmere
x Tidewind Printers BV; NL | Tidewind Printers Ltd; GB
x Nightlamp Guarding; NL | Nightlamp Lighting; NL
x Kroonvis BV; NL | Kroonvis GmbH; DE
x Kroonvis BV; NL v:NL1 | Kroonvis Retail BV; NL v:NL2
x Kroonvis; NL | Kroonvis AS; NO
x De Zilte Hoek; NL | De Zilte Kust; NL
x Van der Meulenbroek Pompen; NL | Van der Meulen Pompen; NL v:NL3 p:1111AA
x Highreach Crane Hire ApS; DK | Highland Crane Hire ApS; DK
x Highreach Crane Hire; DK | Highreach Crane Hire; IE
x Highreach Cranes; DK v:DK1 | Highreach Windows; DK v:DK2
x Østersø Rør A/S; DK | Østersø Røgeri A/S; DK
x Vesterhavet Rør; DK | Østersø Rør; DK
x Ferrolund Fastenings AB; SE | Ferrolund Fastenings Oy; FI
x Ferrolund Fastenings; SE | Ferrostad Fastenings; SE
x Sjöbrisens Plåt; SE | Sjöbrisens Glass; SE
x Merilaite Oy; FI | Merilaite OÜ; EE
x Merilaite Oy; FI | Merilinja Oy; FI
x Brightwater Diving Ltd; IE | Brightwater Plumbing Ltd; IE
x Brightwater Diving; IE | Clearwater Diving; IE
x Brightwater Diving; IE | Brightwater Diving; US
x Ropeline Access Crew; IE | Skyline Access Crew; IE
x Marlowe Laboratory Supply; GB | Marlowe Stationery Supply; GB
x Marlowe Laboratory Supply; GB | Barlowe Laboratory Supply; GB v:GB5 p:NE9 9ZZ
x Puffin & Parcel Gifts; GB | Puffin Couriers; GB
x Puffin Gifts; GB p:LS9 9ZZ | Parcel Gifts; GB p:AB9 9ZZ
x Orrin Valve Company; US | Orrin Bank Corporation; US
x Orrin Valve Co; US c:Port Orrin | Port Orrin Towing; US c:Port Orrin
x Orrin Valve Company; US | Orrin Valve Ltd; GB
x Tern International Manufacturing; US | Heron International Manufacturing; US
x Toshima Probe Works KK; JP | Toshima Denki KK; JP
x Toshima Probe Works; JP | Kashima Probe Works; JP v:JP5
x Toshima Probe Works KK; JP | Toshima Probe Works GmbH; DE
x Quickbrine Trading Lda; PT | Quickbrine Trading SL; ES
x Quickbrine Trading; PT | Quicksilver Trading; PT
x Salgado & Irmãos; PT | Delgado & Irmãos; PT
x Brañaverde Redes SL; ES | Brañaseca Redes SL; ES
x Aguas y Sales del Cabo; ES | Aguas del Norte; ES
x Acquanera Impianti Srl; IT | Acquabianca Impianti Srl; IT
x Acquanera Impianti; IT | Acquanera Impianti; CH
x Fratelli Sorbolongo; IT | Fratelli Sassolungo; IT
x Włókna Bałtyk; PL | Włókna Tatry; PL
x Морская Соль ООО; RU | Морская Рыба ООО; RU
x Морская Соль ООО; RU | Morskaya Sol EOOD; BG
x Полярный Насос; RU | Полярный Компас; RU
x Чистая Вода Юг; RU v:RU1 | Чистая Вода Север; RU v:RU2
x Θαλασσινό Αλάτι; GR | Ορεινό Αλάτι; GR
x Νότος Αντλίες; GR | Νότος Ξενοδοχεία; GR
x Θαλασσινό Αλάτι ΑΕ; GR | Thalassino Alati Ltd; CY
x Halvorsen Tauverk; NO | Halvorsen Møbel; NO
x Halvorsen Tauverk AS; NO | Torvaldsen Tauverk AS; NO
x Bjørnøya Tråd; NO | Bjørnøya Turist; NO
x Fyrlykt Elektro; NO c:Nordhavn | Månelykt Elektro; NO c:Nordhavn
x Ebbe & Flut Wasserbau; DE v:DE1 | Ebbe & Flut Gastronomie; DE v:DE2
x Sturmvogel Segelmacher; DE | Sturmvogel Reisen; DE
x Lotsenhaus Messtechnik; DE r:HRB1 | Lotsenhaus Gaststätte; DE r:HRB2
x Wattenmeer Kabel; DE | Wattenmeer Käse; DE
x Wattenmeer Tours; DE p:26111 | Wattenmeer Kabel; DE p:25999
x Tangwald Seile; DE | Buchwald Seile; DE
x Bernsteiner Optik; DE c:Kliffhusen | Bernsteiner Immobilien; DE c:Kliffhusen
x Deichgraf Baustoffe; DE p:25999 | Deichgraf Brauerei; DE p:25999
x Deichgraf Baustoffe GmbH; DE | Deichgraf Baustoffe GmbH; AT
x Priel Analytik; DE | Siel Analytik; DE
x Nordwind Funk; DE | Südwind Funk; DE
x Nordwind Funk; DE w:nordwindfunk.example | Nordwind Reederei; DE w:nordwind-reederei.example
x Havfrue Tekstil; DK | Havfrue Is; DK p:2999 c:Limvig
x Blåmusling Dambrug; DK | Blåmejse Dambrug; DK
x Vestenvind Sejl; DK | Østenvind Sejl; DK
x Strandskaden Bogtryk; DK | Strandskaden Camping; DK
x Skärgårdens Filter; SE | Skärgårdens Frakt; SE
x Skärgårdens Filter AB; SE | Skärgårdens Filter AS; NO
x Måsens Rep; SE | Tranans Rep; SE
x Kustlinjen Kyl & Värme; SE v:SE1 | Kustlinjen Måleri; SE v:SE2
x Saaristo Köysi; FI | Saaristo Kahvila; FI
x Hylje Huolto Oy; FI | Karhu Huolto Oy; FI
x Goéland Ingénierie; FR v:FR1 | Goéland Traiteur; FR v:FR2
x Goéland Ingénierie SAS; FR | Goéland Ingénierie SA; CH
x Varech & Fils; FR p:56999 | Varech & Fils; FR p:13999 v:FR5
x Phare Ouest Électricité; FR | Phare Est Électricité; FR
x Menuiserie Kervadec; FR | Charpente Kerleguer; FR
x Strandloper Techniek; NL | Strandloper Vastgoed; NL
x Zeekraal Groothandel; NL | Zeewier Groothandel; NL
x Gebroeders Pieterman; NL | Gebroeders Pietersen; NL v:NL7 p:9011AA
x Duinroos Schoonmaak; NL | Duinroos Bloemen; NL
x Lepelaar Grafisch; NL | Kievit Grafisch; NL
x Aquafort Tanks NV; BE | Aquafort Tanks BV; NL
x Kelpie Rigging; GB | Kelpie Coffee; GB
x Kelpie Rigging Ltd; GB v:GB6 | Kelpie Rigging Ltd; IE v:IE6
x Tarn & Fell Hydraulics; GB | Tarn & Fell Outdoor; GB
x Gannet Engineering; GB | Gannet Events; GB
x Gannet Engineering; GB p:LS9 9ZZ | Garnet Engineering; GB p:PL9 9ZZ v:GB8
x Cockle Row Joinery; GB | Mussel Row Joinery; GB
x Pellow & Sons; GB c:Wexcombe | Pellow & Daughters; GB c:Estermouth
x Merrow Scientific; GB l:LEI3 | Merrow Insurance; GB l:LEI4
x Lugworm Tools; GB | Ragworm Tools; GB
x Selkie Wetsuits; IE | Selkie Knitwear; IE
x O'Sheehy Marine; IE | O'Leary Marine; IE
x Grebe Instruments; US | Grebe Airlines; US
x Grebe Instruments Inc; US | Grebe Instruments Pty Ltd; AU
x Sandpiper Systems; US | Sandhill Systems; US
x Kelp Brothers; US | Kelp Partners; US
x Anvil Point Steel; US | Anvil Rock Steel; US
x Mount Cutler Glass; US | Mount Baker Glass; US
x Umineko Kagaku; JP | Umineko Suisan; JP
x Tsurugi Denki; JP | Tsubame Denki; JP
x Cormorano Ottica; IT | Gabbiano Ottica; IT
x Cormorano Ottica Srl; IT | Cormorano Ottica SL; ES
x Sale e Vento; IT | Sole e Vento; IT p:37999 v:IT4
x Percebes Rías Altas; ES | Percebes Rías Baixas; ES
x Cuerdas Ibáñez; ES | Cuerdas Jiménez; ES
x Perna Velas; PT | Perna Hotelaria; PT
x Mewa Transport; PL | Mewa Apteka; PL
x Mewa Transport; PL v:PL1 | Sowa Transport; PL v:PL2
x Alpensee Labor; CH | Alpensee Hotel; CH
x Alpensee Labor AG; CH | Alpensee Labor GmbH; DE v:DE7
x Glacier Bleu; CH | Glacier Blanc; CH
x NFF Cargo; GB | NFT Cargo; GB
x Skerry & Holm Insurance; GB | Skerry Foods; GB
x Sealion 2000; GB | Sealion 3000; GB
x 3 Skippers Paint; GB | 5 Skippers Paint; GB
x Marine Services; GB p:PL9 9ZZ | Marine Supply; GB p:AB9 9ZZ
x International Trading Company; GB | International Shipping Company; GB
x Atlas Marine Services; GB | Apollo Marine Services; GB
x Aqua Systems GmbH; DE p:11999 | Aqua Technik GmbH; DE p:80999
x North Sea Supply; GB | North Sea Logistics; GB
x Ocean Products Europe; NL | Ocean Products America; US
x Sund Glas; DK | Lund Glas; DK
x Fjord Seafood; NO v:NO8 | Fjord Seafood; NO v:NO9 c:Bergsund p:5999
x Rossignol Frères; FR p:35999 | Rossignol Soeurs; FR p:44999
x Klippfisk Lager 7; NO | Klippfisk Lager 9; NO
`

export interface LabelledPair {
  readonly same: boolean
  readonly a: Party
  readonly b: Party
  readonly line: string
}

const SCHEMES = { v: 'vat', r: 'registration', l: 'lei' } as const

function readParty(text: string): Party {
  const [name, facts = ''] = text.split(';').map(part => part.trim()) as [string, string?]
  const words = facts
    .replace(/\b([a-z]:)/g, '\n$1')
    .split('\n')
    .flatMap((part, index) => (index === 0 ? [part.trim()] : [part.trim()]))
  const of = (mark: string): string[] => words.filter(word => word.startsWith(`${mark}:`)).map(word => word.slice(2))
  return {
    names: [name, ...of('t')],
    country: /^[A-Z]{2}\b/.exec(facts)?.[0] ?? '',
    postalCode: of('p')[0] ?? '',
    city: of('c')[0] ?? '',
    street: of('s')[0] ?? '',
    identifiers: (['v', 'r', 'l'] as const).flatMap(mark => of(mark).map(value => ({ scheme: SCHEMES[mark], value }))),
    ibans: of('i'),
    domains: of('w'),
  }
}

export const LABELLED_PAIRS: readonly LabelledPair[] = PAIRS.trim()
  .split('\n')
  .map(line => {
    const [a, b] = line.slice(2).split('|') as [string, string]
    return { same: line.startsWith('='), a: readParty(a), b: readParty(b), line }
  })
