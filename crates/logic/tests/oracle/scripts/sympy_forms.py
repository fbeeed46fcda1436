"""Writes sympy_forms.jsonl: what SymPy's SOPform and POSform make of seeded random functions.

Run with SymPy 1.13 or newer: python sympy_forms.py > ../sympy_forms.jsonl
The first symbol is the most significant bit of the row number.
"""
import json
import random

from sympy import And, Not, Or, symbols
from sympy.logic import POSform, SOPform

random.seed(20261125)


def cost(form, outer, inner):
    """(terms, literals) of a two-level form."""
    if form in (True, False) or str(form) in ("True", "False"):
        return None
    terms = form.args if isinstance(form, outer) else (form,)
    literals = sum(len(t.args) if isinstance(t, inner) else 1 for t in terms)
    return [len(terms), literals]


for number in range(240):
    n = 3 + number % 3
    names = symbols("a b c d e")[:n]
    rows = list(range(2**n))
    density = random.choice([0.3, 0.5, 0.7])
    free = [r for r in rows if random.random() < (0.2 if number % 2 else 0.0)]
    ones = [r for r in rows if r not in free and random.random() < density]
    bits = lambda r: [r >> (n - 1 - i) & 1 for i in range(n)]
    sop = SOPform(names, [bits(r) for r in ones], [bits(r) for r in free])
    pos = POSform(names, [bits(r) for r in ones], [bits(r) for r in free])
    value = lambda form, r: bool(form.subs(dict(zip(names, bits(r))))) if hasattr(form, "subs") else bool(form)
    print(json.dumps({
        "n": n, "minterms": ones, "dontcares": free,
        "sop": cost(sop, Or, And), "pos": cost(pos, And, Or),
        "sop_text": str(sop), "sop_rows": [r for r in rows if value(sop, r)],
        "pos_rows": [r for r in rows if value(pos, r)],
    }))
