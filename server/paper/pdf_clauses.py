"""What PDF/A-2a (ISO 19005-2) and PDF/UA-1 (ISO 14289-1) ask of a file, clause by clause, as far as the file's own objects
tell it. Reads what qpdf says of the file (qpdf --json), and shares nothing with who wrote it.

Usage: pdf_clauses.py archive|accessible FILE. Prints the clauses that do not hold, one a line; status 1 where there are any.
"""

import json
import re
import subprocess
import sys


def main(kind, path):
    said = subprocess.run(
        ["qpdf", "--json=2", "--json-stream-data=inline", "--decode-level=generalized", path],
        capture_output=True, text=True, check=False,
    )
    parts = json.loads(said.stdout)["qpdf"]
    objects = parts[1]
    trailer = objects["trailer"]["value"]

    def value(ref):
        """What a reference leads to, a stream's dictionary among it."""
        seen = 0
        while isinstance(ref, str) and re.fullmatch(r"\d+ \d+ R", ref) and seen < 20:
            one = objects.get("obj:" + ref)
            if one is None:
                return None
            ref = one["value"] if "value" in one else one["stream"]["dict"]
            seen += 1
        return ref

    def data(ref):
        import base64

        return base64.b64decode(objects["obj:" + ref]["stream"]["data"])

    root = value(trailer["/Root"])
    dictionaries = []
    for one in objects.values():
        found = one.get("value") if "value" in one else one.get("stream", {}).get("dict")
        if isinstance(found, dict):
            dictionaries.append(found)
    pages = [one for one in dictionaries if one.get("/Type") == "/Page"]
    fonts = [one for one in dictionaries if one.get("/Type") == "/Font"]
    descriptors = [one for one in dictionaries if one.get("/Type") == "/FontDescriptor"]
    metadata = data(root["/Metadata"]).decode() if "/Metadata" in root else ""
    elements = [one for one in dictionaries if "/S" in one and "/P" in one and one.get("/Type") in (None, "/StructElem")]
    roles = {key: value_ for key, value_ in (value(value(root.get("/StructTreeRoot", {})).get("/RoleMap", {})) or {}).items()}

    def role(element):
        name = element["/S"]
        seen = set()
        while name in roles and name not in seen:
            seen.add(name)
            name = roles[name]
        return name

    standard = {
        "/Document", "/Part", "/Art", "/Sect", "/Div", "/BlockQuote", "/Caption", "/TOC", "/TOCI", "/Index", "/NonStruct",
        "/Private", "/P", "/H", "/H1", "/H2", "/H3", "/H4", "/H5", "/H6", "/L", "/LI", "/Lbl", "/LBody", "/Table", "/TR",
        "/TH", "/TD", "/THead", "/TBody", "/TFoot", "/Span", "/Quote", "/Note", "/Reference", "/BibEntry", "/Code", "/Link",
        "/Annot", "/Ruby", "/Warichu", "/RB", "/RT", "/RP", "/WT", "/WP", "/Figure", "/Formula", "/Form", "/Artifact",
    }
    headings = []

    def walk(one, depth=0):
        """The structure in its own order."""
        one = value(one)
        if depth > 200 or one is None:
            return
        if isinstance(one, list):
            for inner in one:
                walk(inner, depth + 1)
        elif isinstance(one, dict):
            if re.fullmatch(r"/H[1-6]", role(one) if "/S" in one else ""):
                headings.append(int(role(one)[2]))
            walk(one.get("/K"), depth + 1)

    walk((value(root.get("/StructTreeRoot")) or {}).get("/K"))
    both = [
        ("is not encrypted", "/Encrypt" not in trailer),
        ("each font is embedded", all(
            any(key in one for key in ("/FontFile", "/FontFile2", "/FontFile3")) for one in descriptors)),
        ("each font that is no composite one has a descriptor, or is made of one that has", all(
            "/FontDescriptor" in one or "/DescendantFonts" in one or one.get("/Subtype") == "/Type3" for one in fonts)),
        ("each font says which letters its glyphs are", all(
            "/ToUnicode" in one for one in fonts if one.get("/Subtype") == "/Type0")),
        ("is marked", (value(root.get("/MarkInfo")) or {}).get("/Marked") is True),
        ("has a tree of its structure", "/StructTreeRoot" in root),
        ("says its language", bool(root.get("/Lang"))),
        ("each element of its structure is a standard one", all(role(one) in standard for one in elements)),
        ("has metadata as XMP", "<x:xmpmeta" in metadata and "<rdf:RDF" in metadata),
        ("has no actions of a program", not any(
            one.get("/S") in ("/JavaScript", "/Launch", "/Movie", "/Sound", "/ResetForm", "/ImportData") for one in dictionaries)),
    ]
    archive = [
        ("6.1.3 its trailer has an identifier", len(trailer.get("/ID", [])) == 2),
        ("6.1.7 no stream is in another file", not any("/F" in one and "/Length" in one for one in dictionaries)),
        ("6.2.3 has an output intent with a profile", any(
            "/DestOutputProfile" in (value(one) or {}) for one in value(root.get("/OutputIntents", [])) or [])),
        ("6.6.2 says its part and conformance", bool(
            re.search(r"pdfaid:part[>=\"']+2", metadata) and re.search(r"pdfaid:conformance[>=\"']+A", metadata))),
        ("6.5 no form computes its own appearance", (value(root.get("/AcroForm")) or {}).get("/NeedAppearances") is not True),
        ("6.3 each annotation that prints says so", all(
            (value(one) or {}).get("/F", 0) & 4 for page in pages for one in value(page.get("/Annots", [])) or [])),
        ("6.9 no optional content hides anything by an event", "/AS" not in (
            value((value(root.get("/OCProperties")) or {}).get("/D")) or {})),
    ]
    accessible = [
        ("5 says its part", bool(re.search(r"pdfuaid:part[>=\"']+1", metadata))),
        ("7.1 has a title, and viewers show it", "<dc:title" in metadata and (
            value(root.get("/ViewerPreferences")) or {}).get("/DisplayDocTitle") is True),
        ("7.1 is not suspect", (value(root.get("/MarkInfo")) or {}).get("/Suspects") is not True),
        ("7.3 each figure says what it shows", all(
            one.get("/Alt") or one.get("/ActualText") for one in elements if role(one) in ("/Figure", "/Formula"))),
        ("7.4.2 no rank of headings is left out", all(
            after <= before + 1 for before, after in zip([0, *headings], headings))),
        ("7.5 each row of a table is in one", all(
            role(value(one["/P"]) or {"/S": ""}) in ("/Table", "/THead", "/TBody", "/TFoot")
            for one in elements if role(one) == "/TR" and isinstance(one.get("/P"), str))),
        ("7.6 each item of a list is in one", all(
            role(value(one["/P"]) or {"/S": ""}) == "/L" for one in elements if role(one) == "/LI")),
        ("7.18 pages with annotations are gone through by their structure", all(
            page.get("/Tabs") == "/S" for page in pages if value(page.get("/Annots", []))),),
        ("7.21 each page’s content is tied to its structure", all("/StructParents" in page for page in pages)),
    ]
    wrong = [clause for clause, holds in both + (archive if kind == "archive" else accessible) if not holds]
    for clause in wrong:
        print(clause)
    print(f"{len(elements)} elements, {len(pages)} pages, {len(fonts)} fonts", file=sys.stderr)
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1], sys.argv[2]))
