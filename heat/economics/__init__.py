"""What a design costs, what it saves, and what becomes of the money over the years.

cash        The years of an investment
fuels       What the bought heat of a year would cost and emit, burnt as something else
grants      Grants in their order
offer       What a design costs and is worth
parts_list  The parts list of a design
prices      The items of a price book, each with its unit and a made-up starting price
risk        What an investment's worth depends on
tariff      Prices of power by hour and season, and what a year's energy costs with the sun and without it
"""
