"""A made-up kitchen with its panel and trials, laid out at the first start. Nobody in it is real."""
