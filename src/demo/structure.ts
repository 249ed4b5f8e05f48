/** Companies, cost centres and projects of the Hollin Sound Group. All made up. */
export const COMPANIES = [
  {
    code: "HSF",
    name: "Hollin Sound Ferries",
    currency: "EUR",
    country: "IE",
    street: "1 Ferry Quay",
    postcode: "X91 0000",
    city: "Ostry",
    taxNumber: "IE9990017H",
  },
  {
    code: "MBY",
    name: "Merrow Boatyard",
    currency: "GBP",
    country: "GB",
    street: "Slipway Lane",
    postcode: "ZZ9 9ZZ",
    city: "Merrow",
    taxNumber: "GB999000017",
  },
  {
    code: "KIT",
    name: "Kestle Island Terminals",
    currency: "USD",
    country: "US",
    street: "40 Terminal Road",
    postcode: "00000",
    city: "Port Kestle",
    taxNumber: "99-0000017",
  },
] as const;

/** code, name, parent, whether it only sums */
export const COST_CENTRES: readonly (readonly [string, string, string | null, boolean])[] = [
  ["FERRY", "Ferries", null, true],
  ["ROUTE", "Routes", "FERRY", true],
  ["R-OST", "Ostry route", "ROUTE", false],
  ["R-KES", "Kestle route", "ROUTE", false],
  ["R-INN", "Inner sound route", "ROUTE", false],
  ["CREW", "Crewing", "FERRY", true],
  ["C-DECK", "Deck crew", "CREW", false],
  ["C-ENG", "Engine crew", "CREW", false],
  ["C-HOTEL", "Passenger crew", "CREW", false],
  ["VESS", "Vessels", "FERRY", true],
  ["V-LAN", "MV Lantern", "VESS", false],
  ["V-CUR", "MV Curlew", "VESS", false],
  ["V-TER", "MV Tern", "VESS", false],
  ["HARB", "Harbour works", null, false],
  ["YARD", "Boatyard", null, true],
  ["Y-HULL", "Hull shop", "YARD", false],
  ["Y-ENG", "Engine shop", "YARD", false],
  ["Y-RIG", "Rigging and paint", "YARD", false],
  ["TERM", "Terminals", null, true],
  ["T-NORTH", "North terminal", "TERM", false],
  ["T-SOUTH", "South terminal", "TERM", false],
  ["T-PARK", "Parking", "TERM", false],
  ["ADMIN", "Administration", null, true],
  ["A-FIN", "Finance", "ADMIN", false],
  ["A-OFF", "Office and people", "ADMIN", false],
  ["A-SALES", "Sales and marketing", "ADMIN", false],
];

export const PROJECTS: readonly (readonly [string, string, string, string | null])[] = [
  ["P-050", "Ticket office system", "2024-01-01", "2025-06-30"],
  ["P-058", "MV Tern, new galley", "2024-03-01", "2024-12-31"],
  ["P-061", "Ostry pier, design", "2024-09-01", "2025-12-31"],
  ["P-064", "MV Curlew, dry-docking 2025", "2025-01-01", "2025-12-31"],
  ["P-066", "North terminal, roof", "2025-04-01", null],
  ["P-068", "Slipway winch", "2025-06-01", null],
  ["P-070", "Ostry pier, construction", "2025-10-01", null],
  ["P-071", "MV Lantern, hull survey", "2026-01-01", null],
  ["P-072", "Shore power", "2026-02-01", null],
  ["P-073", "Parking gates", "2026-03-01", null],
  ["P-074", "Kestle berth deepening", "2026-05-01", null],
  ["P-075", "Winter timetable 2026", "2026-09-01", null],
];

export const SUPPLIERS = {
  shipyard: "Corrow Shipyard",
  fuel: "Pelling Marine Fuels",
  rope: "Tarn Rope & Chain",
  insurance: "Brightwater Insurance",
  dredging: "Sandholm Dredging",
  electricity: "Gullane Power",
  cleaning: "Stillwave Cleaning",
  software: "Fathom Systems",
  stevedores: "Quayhand Stevedores",
  catering: "Larder & Wake",
  audit: "Merrin Cole Auditors",
  engines: "Orlow Engine Works",
  steel: "Brannoch Steel",
  paint: "Seacoat Paints",
  print: "Tidal Print",
} as const;
export const CUSTOMERS = {
  council: "Ostry Council",
  freight: "Fennick Freight",
  tours: "Sable Tours",
  post: "Sound Post",
  fish: "Halden Fisheries",
  yacht: "Wren Yacht Club",
  builders: "Pike & Daughters Builders",
  cruise: "Larkspur Cruises",
} as const;

/** Passengers by month: empty boats in winter, full ones in summer. */
export const SEASON = [0.55, 0.55, 0.7, 0.92, 1.06, 1.32, 1.62, 1.68, 1.18, 0.94, 0.64, 0.72];
/** Docks fill in winter, when boats lie still. */
export const DOCKING = [1.9, 2.2, 1.6, 0.7, 0.5, 0.3, 0.2, 0.2, 0.5, 1.0, 1.5, 1.6];
