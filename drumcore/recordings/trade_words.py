"""Trade words as they occur in folder and file names, and what each decides."""

from drumcore.kit.values import Family, Hand, MicKind

PIECES: dict[str, tuple[str, Family]] = {
    word: (name, family)
    for name, family, words in [
        (
            "Kick",
            Family.KICK,
            "kick|kicks|kik|kic|kck|kk|kdr|kdrum|bd|kd|bdr|bss|bass|bass drum|bassdrum|bdrum|kickdrum|kick drum|cocktail kick",
        ),
        ("Snare", Family.SNARE, "snare|snares|sn|snr|snar|sd|sdr|sdrum|snare drum|snaredrum|side drum|sidedrum|side"),
        ("Side snare", Family.SNARE, "side snare|sidesnare"),
        ("Hats", Family.HATS, "hat|hats|hh|hht|hts|hhat|hihat|hihats|hi hat|hi hats|high hat|high hats"),
        ("Rack tom", Family.TOM, "rack tom|racktom|rack|rt|rtom|rktm|rtm"),
        ("High tom", Family.TOM, "hightom|hitom|htom|ht|htm"),
        ("Mid tom", Family.TOM, "midtom|mt|mtom|mtm"),
        ("Low tom", Family.TOM, "lowtom|lotom|ltom|lt|ltm"),
        ("Floor tom", Family.TOM, "floor tom|floortom|ft|ftom|floor|ftm|flt|fltom"),
        ("Tom", Family.TOM, "tom|toms|tomtom|tm"),
        ("Crash left", Family.CRASH, "crash left|crash l|left crash|crashl|crl|cr l|lcrash"),
        ("Crash right", Family.CRASH, "crash right|crash r|right crash|crashr|crr|cr r|rcrash"),
        ("Crash", Family.CRASH, "crash|crashes|crsh|crs|cr|cc|crc|crcym|crashcym"),
        ("Cymbal", Family.CRASH, "cymbal|cymbals|cym|cymb|cy"),
        ("Ride", Family.RIDE, "ride|rides|rd|rid|rde|rc|rdc|rdcym|ridecym"),
        ("Splash", Family.SPLASH, "splash|splashes|spl|spls|sp"),
        ("China", Family.CHINA, "china|chinas|chn|chi|chin"),
        ("Cowbell", Family.PERCUSSION, "cowbell|cow bell|cb|cbl|cwbl|cow|cwb"),
        ("Tambourine", Family.PERCUSSION, "tambourine|tamb|tambo|tmb|tb|tbr|tmbr"),
        ("Woodblock", Family.PERCUSSION, "woodblock|wood block|wb|wdb|wbl|wblk|woodblk|block|blocks|blk"),
        ("Shaker", Family.PERCUSSION, "shaker|shakers|shk|shkr|shak"),
        ("Clap", Family.PERCUSSION, "clap|claps|clp|clps|cp|hand clap|handclap"),
        ("Conga", Family.PERCUSSION, "conga|congas|cnga|cng"),
        ("Bongo", Family.PERCUSSION, "bongo|bongos|bng|bngo"),
        ("Timbale", Family.PERCUSSION, "timbale|timbales|timb|tmbl"),
        ("Claves", Family.PERCUSSION, "claves|clave"),
        ("Triangle", Family.PERCUSSION, "triangle|tri|trg|trgl"),
        ("Cabasa", Family.PERCUSSION, "cabasa"),
        ("Maracas", Family.PERCUSSION, "maracas|maraca"),
        ("Guiro", Family.PERCUSSION, "guiro"),
        ("Agogo", Family.PERCUSSION, "agogo"),
        ("Djembe", Family.PERCUSSION, "djembe"),
        ("Cajon", Family.PERCUSSION, "cajon"),
        ("Percussion", Family.PERCUSSION, "perc|percussion"),
        ("Gong", Family.OTHER, "gong|tamtam"),
    ]
    for word in words.split("|")
}

CYMBAL = "Cymbal"
"""A cymbal of which nothing else is said: hats where articulations of hats stand beside it, else a crash."""
IMPLIED = {
    **dict.fromkeys(("side stick", "rimshot"), ("Snare", Family.SNARE)),
    **dict.fromkeys(("closed", "open", "half open", "pedal", "tight"), ("Hats", Family.HATS)),
    **dict.fromkeys(("bow", "bell"), ("Ride", Family.RIDE)),
}
"""Articulations that say which piece was struck where no other word does."""
HAT_ARTICULATIONS = {"closed", "open", "half open", "pedal", "tight"}

WHICH = {
    "High": "high|hi|small|smaller|first|1st",
    "Mid": "mid|middle|second|2nd",
    "Low": "low|lo|large|big|bigger|third|3rd",
}
"""Words that say which of several, beside a tom or a piece of hand percussion; elsewhere some of them are strengths."""
WHICH_BEFORE = {"High": "upper", "Low": "lower"}
"""The same, but only in front: behind a drum they name the microphone over or under it."""
SIDES = {"left": "left|l|lft", "right": "right|r|rgt"}
SIDED = ("Kick", "Crash", "Ride", "Splash", "China")
ORDINALS = {"main": "main|first|1st", "second": "second|2nd|other|aux"}
"""Which of two, beside a kick, a snare or a cymbal."""


def _beside(names: str, words: str) -> list[str]:
    """Every name with every word before and after it."""
    return [
        f"{a} {b}" for name in names.split("|") for word in words.split("|") for a, b in ((name, word), (word, name))
    ]


def _which() -> dict[str, tuple[str, Family]]:
    found: dict[str, tuple[str, Family]] = {}
    said: dict[str, list[str]] = {}
    for word, (name, _) in PIECES.items():
        said.setdefault(name, []).append(word)
    families = dict(PIECES.values())
    for name in ("Kick", "Snare", "Crash", "Ride", "Splash", "China"):
        for which, words in ORDINALS.items():
            for phrase in _beside("|".join(said[name]), words):
                found[phrase] = (f"{which.capitalize()} {name.lower()}" if which != "main" else name, families[name])
    for name in SIDED:
        for side, words in SIDES.items():
            cymbals = said[CYMBAL] if name == "Crash" else []
            for phrase in _beside("|".join([*said[name], *cymbals]), words):
                found[phrase] = (f"{name} {side}", families[name])
    for which, words in WHICH.items():
        for phrase in _beside("|".join(said["Tom"]), words):
            found[phrase] = (f"{which} tom", Family.TOM)
        for name in ("Conga", "Bongo", "Timbale"):
            for phrase in _beside("|".join(said[name]), words):
                found[phrase] = (f"{which} {name.lower()}", Family.PERCUSSION)
    found |= {
        f"{word} {tom}": (f"{which} tom", Family.TOM) for which, word in WHICH_BEFORE.items() for tom in said["Tom"]
    }
    return found


PIECES |= {phrase: meant for phrase, meant in _which().items() if phrase not in PIECES}

NUMBERED_FAMILIES = {Family.KICK, Family.SNARE, Family.TOM, Family.CRASH, Family.RIDE, Family.SPLASH, Family.CHINA}

ARTICULATIONS: dict[str, str] = {
    word: name
    for name, words in [
        ("centre", "centre|center|cntr|ctr|ct|cen|head"),
        ("rimshot", "rimshot|rim shot|rimshots|rs|rsh|rmsh|rimsh"),
        ("rim", "rim"),
        (
            "side stick",
            "side stick|sidestick|cross stick|crossstick|xstick|x stick|stick|rim click|rimclick|ss|xs|xst|xstk|sstk",
        ),
        ("half open", "half open|halfopen|half|semi open|semiopen|semi|ho"),
        ("tight", "tight|tite"),
        ("closed", "closed|close hat|shut|cl|cls|clsd|clo"),
        ("open", "open|opn|op|opened"),
        ("pedal", "pedal|foot|chick|ped|pdl|ft hat"),
        ("edge", "edge|edg|eg"),
        ("tip", "tip"),
        ("shank", "shank"),
        ("bow", "bow|bw"),
        ("bell", "bell|bl|bel|cup"),
        ("choke", "choke|choked|stop|hand stop|handstop|muted|mute|damp|damped"),
        ("shake", "shake|shaken"),
        ("hit", "hit|hits"),
        ("slap", "slap"),
        ("flam", "flam|flams"),
        ("drag", "drag|drags"),
        ("roll", "roll|rolls"),
        ("buzz", "buzz"),
        ("brush", "brush|brushes"),
        ("off", "wires off|snares off|off"),
        ("splash", "foot splash"),
        ("long", "long|lng"),
        ("short", "short|shrt"),
        ("up", "up|upstroke"),
        ("down", "down|dwn|downstroke"),
        ("forward", "forward|fwd|forwards"),
        ("backward", "backward|backwards|bwd|bkwd"),
        ("scrape", "scrape|scrapes"),
        ("finger", "finger|fingers"),
        ("thumb", "thumb"),
        ("palm", "palm"),
        ("heel", "heel"),
        ("toe", "toe"),
        ("swish", "swish"),
        ("sweep", "sweep|sweeps"),
        ("ring", "ring|ringing"),
    ]
    for word in words.split("|")
}

DEFAULT_ARTICULATION = {
    Family.KICK: "centre",
    Family.SNARE: "centre",
    Family.TOM: "centre",
    Family.HATS: "closed",
    Family.CRASH: "edge",
    Family.SPLASH: "edge",
    Family.CHINA: "edge",
    Family.RIDE: "bow",
    Family.PERCUSSION: "hit",
    Family.OTHER: "hit",
}

MIC_KINDS: dict[str, MicKind] = {
    word: kind
    for kind, words in [
        (MicKind.CLOSE, "close|cls mic|spot|spots|direct|dir|near|close mic|close mics|closemic"),
        (MicKind.OVERHEAD, "overhead|overheads|oh|ohs|ovh|ovhd|over head|over heads"),
        (MicKind.ROOM, "room|rooms|rm|amb|ambience|ambient|ambiance|far|hall|roommic|room mic|room mics"),
        (MicKind.OTHER, "mono|under|underhead|trash|crush|squash|pzm|knee"),
    ]
    for word in words.split("|")
}

MIC_POSITIONS: dict[str, str] = {
    word: name
    for name, words in [
        ("in", "in|inside|inner"),
        ("out", "out|outside|outer"),
        ("top", "top|tp|upper"),
        ("bottom", "bottom|btm|bot|bttm|lower"),
        ("sub", "sub"),
        ("front", "front"),
        ("back", "back"),
    ]
    for word in words.split("|")
}

BETWEEN_MIC_AND_ARTICULATION = frozenset({"cl", "cls", "clo"})
"""Short for “close”, where the microphone stood, and for “closed”, how hats are struck: what is struck decides."""

MIC_WORDS = {"mic", "mics", "microphone", "mike", "microphones", "channel", "track"}

STRENGTHS: dict[str, float] = {
    word: rank
    for rank, words in [
        (0.5, "ghost|ghosts|pppp|whisper"),
        (1.0, "ppp|softest|quietest|very soft|very quiet|vsoft"),
        (2.0, "pp|softer"),
        (3.0, "p|soft|quiet|light|low velocity|lo|piano"),
        (4.0, "mp|medium soft|med soft|medsoft"),
        (5.0, "medium|med|mid|normal|moderate|mezzo"),
        (6.0, "mf|medium hard|med hard|medhard"),
        (7.0, "f|hard|loud|strong|heavy|forte"),
        (8.0, "ff|harder|very hard|very loud|vhard"),
        (9.0, "fff|hardest|loudest|max|accent"),
        (9.5, "ffff"),
    ]
    for word in words.split("|")
}
LETTER_STRENGTHS = {"s": 3.0, "m": 5.0, "h": 7.0}

HANDS: dict[str, Hand] = {
    "l": Hand.LEFT,
    "lh": Hand.LEFT,
    "left": Hand.LEFT,
    "left hand": Hand.LEFT,
    "lefthand": Hand.LEFT,
    "r": Hand.RIGHT,
    "rh": Hand.RIGHT,
    "right": Hand.RIGHT,
    "right hand": Hand.RIGHT,
    "righthand": Hand.RIGHT,
}

GLUED = {
    "hhc": ["hh", "closed"],
    "hho": ["hh", "open"],
    "hhp": ["hh", "pedal"],
    "hhf": ["hh", "foot"],
    "hhh": ["hh", "half"],
    "snt": ["sn", "top"],
    "snb": ["sn", "bottom"],
    "chh": ["hh", "closed"],
    "ohh": ["hh", "open"],
    "phh": ["hh", "pedal"],
    "fhh": ["hh", "foot"],
    "hhhf": ["hh", "half"],
    "hhcl": ["hh", "closed"],
    "hhop": ["hh", "open"],
    "hhpd": ["hh", "pedal"],
    "rcb": ["ride", "bell"],
    "rdb": ["ride", "bell"],
    "rdbl": ["ride", "bell"],
    "sst": ["snare", "sidestick"],
    "snss": ["snare", "sidestick"],
    "snrs": ["snare", "rimshot"],
    "ohl": ["oh", "l"],
    "ohr": ["oh", "r"],
    "rml": ["room", "l"],
    "rmr": ["room", "r"],
}
"""Abbreviations written together."""

IGNORED = {
    "mix",
    "mixed",
    "dry",
    "wet",
    "final",
    "master",
    "raw",
    "edit",
    "edited",
    "clean",
    "proc",
    "processed",
    "bpm",
    "bit",
    "bits",
    "khz",
    "hz",
    "wav",
    "inch",
    "inches",
    "cm",
    "mm",
    "vol",
    "volume",
    "library",
    "lib",
    "session",
    "of",
    "sample",
    "samples",
    "oneshot",
    "version",
    "ver",
}
"""Words that say nothing of what was struck."""

SIZE_WORDS = {"in", "inch", "inches", "zoll"}
"""After a number: how large a drum or cymbal is."""
LETTERS: dict[Family, dict[str, str]] = {
    Family.HATS: {"c": "closed", "o": "open", "p": "pedal", "f": "pedal", "h": "half open", "t": "tight"},
    Family.SNARE: {"c": "centre", "r": "rimshot", "x": "side stick"},
}
"""Single letters for articulations, where several of them stand right behind hats or a snare."""
NUMBER_WORDS = {
    w: n for n, w in enumerate(["one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"], start=1)
}
SHORT_STRENGTHS = frozenset({"p", "pp", "mp", "mf", "f", "ff", "m"})
"""Marks for strength that are written to a piece without a space: the p of kickp1."""
STRENGTH_MARKS = {"v", "vel", "velo", "velocity", "vl", "lay", "layer", "lyr", "dyn", "dynamic", "str", "strength"}
REPEAT_MARKS = {"rr", "r", "take", "tk", "t", "rep", "repeat", "hit", "alt", "var", "x", "robin", "round robin", "n"}
