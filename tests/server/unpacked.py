"""Groups of clashes out of the columns in which they travel, as `web/src/clashes/unpacked.ts` makes them."""


def unpacked(body: dict) -> list[dict]:
    packed = body["packed"]
    texts, setups, departments, strokes = (packed[t] for t in ("texts", "setups", "department_ids", "strokes"))
    shortcuts = [
        {"text": texts[t], "words": texts[w], "caps": [[texts[c] for c in press] for press in caps]}
        for t, w, caps in zip(*(packed["shortcuts"][c] for c in ("text", "words", "caps")), strict=True)
    ]
    columns = packed["parties"]
    parties = [
        {**{c: texts[columns[c][n]] for c in columns if c != "shortcut"}, "shortcut": shortcuts[columns["shortcut"][n]]}
        for n in range(len(columns["program"]))
    ]
    groups = packed["groups"]
    found = []
    for n, identity in enumerate(groups["identity"]):
        one = {"identity": identity}
        one |= {c: groups[c][n] for c in ("kind", "severity", "taken_at", "meant_for", "people")}
        one |= {c: texts[groups[c][n]] for c in ("says", "text", "taken_says", "meant_says")}
        one["seen_in"] = setups[groups["seen_in"][n]]
        one["subject"] = parties[groups["subject"][n]]
        holder, stroke, focus = groups["holder"][n], groups["stroke"][n], groups["focus"][n]
        one["holder"] = None if holder is None else parties[holder]
        one["stroke"] = None if stroke is None else strokes[stroke]
        one["strokes"] = [strokes[s] for s in groups["strokes"][n]]
        one["focus"] = {"program": texts[focus[0]], "scope": texts[focus[1]]} if focus else None
        one["setups"] = [setups[s] for s in groups["setups"][n]]
        one["departments"] = [departments[d] for d in groups["departments"][n]]
        one |= {c: n in groups[c] for c in ("new", "may_be_meant")}
        one |= {c: groups[c].get(str(n)) for c in ("meaning", "allowed")}
        found.append(one)
    return found
