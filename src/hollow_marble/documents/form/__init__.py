"""Forms: parts with recipes, and the sheet views that stand behind them."""
