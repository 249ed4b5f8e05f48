import { chartOf, type Chart } from "@/core/ledger";

/** The chart of a company that moves people and goods by water and keeps quays and vessels. */
const CHART = `
1 Assets
 10 Non-current assets
  100 Intangible assets
   1010 Software and licences | nm asset
   1019 Amortisation of software and licences | nm asset
   1020 Route concessions | nm asset
   1029 Amortisation of route concessions | nm asset
   1030 Goodwill | nm
  105 Property, vessels and equipment
   1050 Land | nm asset
   1055 Quays and piers | nm asset
   1056 Depreciation of quays and piers | nm asset
   1060 Terminal buildings | nm asset
   1061 Depreciation of terminal buildings | nm asset
   1065 Vessels | nm asset
   1066 Depreciation of vessels | nm asset
   1070 Dry-docking, capitalised | nm asset
   1071 Depreciation of dry-docking | nm asset
   1075 Machinery and cranes | nm asset
   1076 Depreciation of machinery and cranes | nm asset
   1080 Vehicles | nm asset
   1081 Depreciation of vehicles | nm asset
   1085 Fixtures and equipment | nm asset
   1086 Depreciation of fixtures and equipment | nm asset
   1088 Asset intake | nm intake
   1090 Construction in progress | nm asset
   1095 Right-of-use assets | nm
   1096 Depreciation of right-of-use assets | nm
  109 Financial assets
   1097 Investments in group companies | nm
   1098 Loans to group companies | intercompany
   1099 Deferred tax assets | nm
 11 Current assets
  110 Cash and banks
   1100 Cash in tills
   1105 Petty cash | bank
   1110 Current account, Ostry Savings | bank
   1111 Current account, Sound Mutual | bank
   1112 Deposit account | bank
   1115 Foreign currency account | bank
   1116 Krone account | bank
   1117 Reserve account | bank
   1120 Payments under way | transit
   1125 Receipts under way
   1126 Card receipts under way
  120 Stocks
   1210 Gas oil | nm stock
   1220 Lubricants and stores | nm stock
   1230 Spare parts | nm stock
   1240 Goods for on-board sale | nm stock
   1250 Work in progress, refits | nm stock
  130 Trade receivables
   1310 Customers | receivables
   1319 Allowance for doubtful receivables
   1320 Refits completed, not invoiced
   1330 Bills and notes receivable | transit
   1340 Due from group companies | intercompany
  140 Other current assets
   1410 Input VAT | tax
   1420 Corporate income tax receivable
   1430 Advances to suppliers | payables
   1440 Prepaid insurance | nm
   1445 Prepaid expenses | nm
   1450 Advances to staff
   1460 Accrued income
   1470 Deposits given
   1480 Grants receivable
2 Liabilities
 21 Current liabilities
  210 Trade payables
   2110 Advances from customers | receivables
   2130 Bills and notes payable | transit
   2140 Suppliers | payables
   2145 Goods received, not invoiced | GRNI
   2150 Due to group companies | intercompany
  220 Taxes and social security
   2210 Output VAT | tax
   2220 VAT payable
   2230 Corporate income tax payable
   2240 Withholding tax payable | tax
   2250 Wage tax payable
   2260 Social security payable
   2270 Harbour dues collected for the authority
  230 Staff
   2310 Net pay payable
   2320 Holiday pay
   2330 Bonuses payable
   2340 Pension contributions payable
  240 Accruals and deferrals
   2410 Accrued expenses
   2415 Accrued payroll
   2420 Deferred income, season tickets | nm
   2425 Deferred income, other | nm
   2427 Prepayments of customers | nm
   2430 Accrued interest
   2440 Suspense
  250 Short-term borrowing
   2510 Overdraft
   2520 Current portion of loans
   2530 Current lease liabilities
 25 Non-current liabilities
  260 Borrowing
   2610 Vessel loans
   2620 Pier loan
   2630 Lease liabilities
   2640 Loans from group companies | intercompany
  270 Provisions and deferrals
   2710 Provision for dry-docking | nm
   2720 Provision for pensions | nm
   2730 Provision for claims | nm
   2740 Deferred tax liabilities | nm
   2750 Deferred capital grants | nm
3 Equity
 30 Capital and reserves
   3010 Share capital | nm
   3020 Share premium | nm
   3110 Legal reserve | nm
   3120 Revaluation reserve | nm
   3130 Translation reserve | nm
   3210 Retained earnings | nm
   3220 Dividends declared | nm
4 Income
 40 Revenue
  400 Passenger fares
   4010 Passenger fares, islands
   4020 Passenger fares, sound crossing
   4030 Season tickets
   4040 Group and charter sailings
   4090 Fare discounts and refunds
  410 Freight and vehicles
   4110 Cars and vans
   4120 Lorries and trailers
   4130 Freight contracts
   4140 Post and parcels
  420 Terminal and berth income
   4210 Berth dues
   4220 Terminal fees
   4230 Parking
   4240 Storage and handling
  430 Yard income
   4310 Repairs
   4320 Refits
   4330 Berthing and hauling-out
   4340 Repairs for group companies
  440 Other sales
   4410 On-board sales
   4420 Concessions and rents
   4430 Advertising space
 45 Other operating income
   4510 Operating grants
   4520 Release of capital grants
   4530 Gains on disposal of assets
   4540 Insurance recoveries
   4590 Sundry income
5 Direct costs
 50 Fuel
   5010 Gas oil
   5020 Lubricants
   5030 Fuel hedging result
 52 Crew
   5210 Crew wages
   5220 Crew social security
   5230 Crew pensions
   5240 Overtime and relief crew
   5250 Crew training and certificates
   5260 Crew travel and victualling
 54 Yard and terminal labour
   5410 Yard wages
   5415 Yard social security
   5420 Terminal wages
   5425 Terminal social security
 56 Materials and goods
   5610 Materials for repairs
   5620 Subcontracted yard work
   5630 Cost of on-board sales
   5640 Stock differences
   5650 Price differences on purchases
6 Operating costs
 62 Harbour and route costs
   6210 Harbour and pilot dues
   6220 Ticket commissions
   6230 Card fees
   6240 Stevedoring
   6250 Passenger services
   6260 Cleaning and waste
 63 Quay and pier maintenance
   6310 Quay and pier maintenance
   6320 Dredging
   6330 Terminal maintenance
 64 Vessel maintenance
   6410 Vessel repairs
   6420 Vessel dry-docking
   6430 Spare parts used
   6440 Surveys and class
   6450 Repairs by group companies
 66 Insurance and energy
   6610 Hull and liability insurance
   6620 Property insurance
   6630 Electricity and heat
   6640 Water
7 Administration and other
 70 Staff, administration
   7010 Salaries
   7020 Social security
   7030 Pensions
   7040 Training
   7050 Travel
   7060 Recruitment
 72 Offices and systems
   7210 Rent of offices
   7220 Software subscriptions
   7230 Telephone and network
   7240 Office supplies
   7250 Postage and freight
 74 Advice and other
   7410 Audit fees
   7420 Legal and other advice
   7430 Marketing
   7440 Membership and licences
   7450 Bank charges
   7460 Bad debts
   7470 Donations
   7480 Small differences
   7490 Sundry expenses
 80 Depreciation and impairment
   8010 Depreciation of vessels and dry-docking
   8020 Depreciation of quays and buildings
   8030 Depreciation of equipment and vehicles
   8040 Amortisation of intangible assets
   8050 Depreciation of right-of-use assets
   8060 Impairment
   8070 Losses on disposal of assets
 85 Finance result
   8510 Interest income
   8520 Interest on loans
   8530 Interest on leases
   8540 Exchange gains
   8550 Exchange losses
   8560 Discounts received
   8570 Discounts allowed
   8575 Rounding differences
   8580 Differences written off
 90 Income tax
   8910 Current income tax
   8920 Deferred income tax
9 Units
   9010 Passengers carried
   9020 Vehicles carried
   9030 Crew hours
   9040 Floor area in square metres
   9050 Berth days
`;

export const ferryChart = (): Chart => chartOf(CHART);
