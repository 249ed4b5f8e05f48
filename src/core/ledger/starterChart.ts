import { chartOf, type Chart } from "./chartText";

/** A chart to start from, whatever the trade; the statements that come with it fit its numbers. */
const CHART = `
1 Assets
 10 Non-current assets
  100 Intangible assets
   1010 Software and licences | nm asset
   1019 Amortisation of software and licences | nm asset
   1020 Development costs | nm asset
   1029 Amortisation of development costs | nm asset
   1030 Goodwill | nm
  105 Property, plant and equipment
   1050 Land | nm asset
   1055 Buildings | nm asset
   1056 Depreciation of buildings | nm asset
   1075 Plant and machinery | nm asset
   1076 Depreciation of plant and machinery | nm asset
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
   1100 Petty cash
   1110 Current account | bank
   1112 Deposit account | bank
   1115 Foreign currency account | bank
   1120 Payments under way | transit
   1125 Receipts under way
   1126 Card receipts under way
  120 Stocks
   1210 Raw materials | nm stock
   1220 Work in progress | nm stock
   1230 Finished goods | nm stock
   1240 Goods for resale | nm stock
  130 Trade receivables
   1310 Customers | receivables
   1319 Allowance for doubtful receivables
   1320 Work done, not invoiced
   1330 Bills and notes receivable | transit
   1340 Due from group companies | intercompany
  140 Other current assets
   1410 Input VAT | tax
   1420 Income tax receivable
   1430 Advances to suppliers | payables
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
   2230 Income tax payable
   2240 Withholding tax payable | tax
   2250 Wage tax payable
   2260 Social security payable
  230 Staff
   2310 Net pay payable
   2320 Holiday pay
   2330 Bonuses payable
   2340 Pension contributions payable
  240 Accruals and deferrals
   2410 Accrued expenses
   2415 Accrued payroll
   2420 Deferred income | nm
   2430 Accrued interest
   2440 Suspense
  250 Short-term borrowing
   2510 Overdraft
   2520 Current portion of loans
   2530 Current lease liabilities
 25 Non-current liabilities
  260 Borrowing
   2610 Bank loans
   2630 Lease liabilities
   2640 Loans from group companies | intercompany
  270 Provisions and deferrals
   2710 Provision for warranties | nm
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
  400 Sales of goods
   4010 Sales of goods, domestic
   4020 Sales of goods, abroad
   4090 Discounts and returns of goods
  410 Sales of services
   4110 Sales of services, domestic
   4120 Sales of services, abroad
   4190 Discounts on services
  420 Sales to group companies
   4210 Sales to group companies
 45 Other operating income
   4510 Operating grants
   4520 Release of capital grants
   4530 Gains on disposal of assets
   4540 Insurance recoveries
   4550 Rental income
   4590 Sundry income
5 Cost of sales
 50 Materials and goods
   5010 Raw materials used
   5020 Goods for resale
   5030 Freight inwards
   5640 Stock differences
   5650 Price differences on purchases
 52 Production staff
   5210 Production wages
   5220 Production social security
   5230 Production pensions
 54 Bought-in services
   5410 Subcontractors
   5420 Purchases from group companies
6 Operating costs
 60 Selling and distribution
   6010 Advertising and marketing
   6020 Sales commissions
   6030 Freight outwards
   6040 Travel
 62 Premises
   6210 Rent
   6220 Electricity and heat
   6230 Water and waste
   6240 Cleaning
   6250 Repairs of buildings
 64 Equipment and vehicles
   6410 Repairs of equipment
   6420 Vehicle costs
   6430 Small equipment
 66 Insurance
   6610 Insurance of property
   6620 Liability insurance
7 Administration and other
 70 Administrative staff
   7010 Salaries
   7020 Social security
   7030 Pensions
   7040 Training
   7050 Travel and meals
   7060 Recruitment
 72 Office and systems
   7220 Software subscriptions
   7230 Telephone and network
   7240 Office supplies
   7250 Postage
 74 Advice and other
   7410 Audit fees
   7420 Legal and other advice
   7440 Memberships
   7450 Bank charges
   7460 Bad debts
   7470 Donations
   7480 Small differences
   7490 Sundry expenses
 80 Depreciation and impairment
   8010 Depreciation of buildings
   8020 Depreciation of plant and machinery
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
   9010 Hours worked
   9020 Units sold
   9030 Floor area in square metres
`;

export const starterChart = (): Chart => chartOf(CHART);
