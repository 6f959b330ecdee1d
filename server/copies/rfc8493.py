# Checks the bag in a folder by the rules of RFC 8493, section by section; prints what is not so, one line each.
import hashlib, os, re, sys

bag = sys.argv[1]
faults = []


def read(name):
    try:
        with open(os.path.join(bag, name), "rb") as file:
            return file.read().decode("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        faults.append(f"{name}: {error}")
        return ""


def digest(path):
    sha = hashlib.sha256()
    with open(path, "rb") as file:
        for block in iter(lambda: file.read(1 << 20), b""):
            sha.update(block)
    return sha.hexdigest()


# 2.1.1
if read("bagit.txt") != "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n":
    faults.append("bagit.txt: not the declaration")


# 2.1.3 and 2.2.1
def manifest(name, payload):
    listed = {}
    for line in read(name).splitlines():
        match = re.fullmatch(r"([0-9a-f]{64})[ \t]+(\S.*)", line)
        if not match:
            faults.append(f"{name}: {line!r}")
            continue
        path = re.sub("%(0A|0D|25)", lambda code: chr(int(code[1], 16)), match[2])
        if path in listed:
            faults.append(f"{name}: {path} twice")
        if path.startswith("data/") != payload:
            faults.append(f"{name}: {path} does not belong here")
        if ".." in path.split("/") or os.path.isabs(path):
            faults.append(f"{name}: {path} leads outside")
            continue
        listed[path] = match[1]
    for path, sha in listed.items():
        if not os.path.isfile(os.path.join(bag, path)):
            faults.append(f"{path}: missing")
        elif digest(os.path.join(bag, path)) != sha:
            faults.append(f"{path}: another checksum")
    return listed


listed = manifest("manifest-sha256.txt", True)
tags = manifest("tagmanifest-sha256.txt", False)
for name in ("bagit.txt", "bag-info.txt", "manifest-sha256.txt"):
    if name not in tags:
        faults.append(f"tagmanifest-sha256.txt: without {name}")
if "tagmanifest-sha256.txt" in tags:
    faults.append("tagmanifest-sha256.txt: lists itself")

# 3: every file of the payload is listed; links are none of it.
size = count = 0
for folder, folders, files in os.walk(os.path.join(bag, "data")):
    for name in folders + files:
        if os.path.islink(os.path.join(folder, name)):
            faults.append(f"{name}: a link")
    for name in files:
        path = os.path.relpath(os.path.join(folder, name), bag)
        size += os.path.getsize(os.path.join(folder, name))
        count += 1
        if path not in listed:
            faults.append(f"{path}: not listed")

# 2.2.2
info = read("bag-info.txt")
if not re.fullmatch(r"(?:[^:\n]+: [^\n]*\n)+", info):
    faults.append("bag-info.txt: no labels with values")
oxum = re.search(r"^Payload-Oxum: (\d+)\.(\d+)$", info, re.M)
if not oxum or (int(oxum[1]), int(oxum[2])) != (size, count):
    faults.append(f"bag-info.txt: Payload-Oxum is not {size}.{count}")

print("\n".join(faults))
