"""The trade's data against their JSON schemas: what is wrong is said with file, entry, field and reason."""
import json
import pathlib
import sys

import jsonschema

root = pathlib.Path(sys.argv[1])
data = root / "data"


def schema(name):
    return json.loads((data / "schema" / f"{name}.json").read_text())


def complaints(name, text, where):
    value = json.loads(text)
    for e in sorted(jsonschema.Draft7Validator(schema(name)).iter_errors(value), key=lambda e: list(map(str, e.path))):
        at, entry = value, ""
        for step in e.path:
            at = at[step]
            if isinstance(at, dict) and "id" in at:
                entry = f": \"{at['id']}\""
        field = "/".join(str(s) for s in e.path) or "top"
        yield f"{where}{entry}: {field}: {e.message[:160]}"


wrong = []
files = [("school", f) for f in sorted((data / "schools").glob("*.json"))]
files += [(n, data / f"{n}.json") for n in ("faults", "causes", "checks", "strengths", "situations", "measure_words", "amounts", "exercises", "exercise_plates")]
for name, file in files:
    wrong += complaints(name, file.read_text(), file.relative_to(root))

# The schemas refuse what they should: one wrong thing at a time in a good file.
broken = [("school", "schools/hunter.json", '"trunk_lean": [0, 7]', '"trunk_leen": [0, 7]', "trunk_leen"),
          ("school", "schools/hunter.json", '"trunk_lean": [0, 7]', '"trunk_lean": [0, "7"]', "trunk_lean"),
          ("faults", "faults.json", '"side": "above"', '"side": "over"', "when"),
          ("faults", "faults.json", '"group": "base"', '"group": "bass"', "bass"),
          ("checks", "checks.json", '"asks":', '"ask":', "ask"),
          ("situations", "situations.json", '"stirrups": ["off"]', '"stirups": ["off"]', "stirups"),
          ("exercise_plates", "exercise_plates.json", '"hands": "neck"', '"hands": "neckk"', "hands"),
          ("exercises", "exercises.json", '"bouts": 5', '"bouts": 0', "bouts"),
          ("exercises", "exercises.json", '"picture":', '"image":', "image")]
for name, file, good, bad, names in broken:
    text = (data / file).read_text()
    assert good in text, (file, good)
    found = list(complaints(name, text.replace(good, bad, 1), file))
    if not any(names in line and file in line for line in found):
        wrong.append(f"data/schema/{name}.json: lets {bad} pass in {file}")
print("\n".join(wrong) or f"{len(files)} files fit their schemas, {len(broken)} broken ones do not")
sys.exit(bool(wrong))
