"""The tuner: what the cuts so far say, and what to cut next.

Read in this order: ``priors`` (what is believed before the first cut), ``bevel_model``,
``dross_model`` and ``voltage_model`` (what the cuts add), ``chances`` (the chance that a setting
passes, and that a cut did), ``causes`` (what no speed or height will cure), ``reasons`` (saying it in
shop words) and ``advise`` (the answer).
"""
