"""Words of the trade as they turn up in folder and file names, and what each decides."""

from drumcore.kit.values import Family, Hand, MicKind

PIECES: dict[str, tuple[str, Family]] = {
    word: (name, family)
    for name, family, words in [
        ("Kick", Family.KICK, "kick|kik|kck|bd|kd|bass drum|bassdrum|bdrum|kickdrum|kick drum|cocktail kick"),
        ("Snare", Family.SNARE, "snare|snares|sn|snr|sd|snare drum|snaredrum"),
        ("Side snare", Family.SNARE, "side snare|sidesnare"),
        ("Hats", Family.HATS, "hat|hats|hh|hihat|hihats|hi hat|hi hats|high hat|hht"),
        ("Rack tom", Family.TOM, "rack tom|racktom|rack|rt|rtom"),
        ("High tom", Family.TOM, "high tom|hightom|hi tom|hitom|htom"),
        ("Mid tom", Family.TOM, "mid tom|midtom|mt|mtom|middle tom"),
        ("Low tom", Family.TOM, "low tom|lowtom|ltom|lt"),
        ("Floor tom", Family.TOM, "floor tom|floortom|ft|ftom|floor"),
        ("Tom", Family.TOM, "tom|toms|tomtom"),
        ("Crash left", Family.CRASH, "crash left|crash l|left crash|crashl|crl|cr l|lcrash"),
        ("Crash right", Family.CRASH, "crash right|crash r|right crash|crashr|crr|cr r|rcrash"),
        ("Crash", Family.CRASH, "crash|crashes|crsh|cr|cym|cymbal"),
        ("Ride", Family.RIDE, "ride|rd|rid"),
        ("Splash", Family.SPLASH, "splash|spl"),
        ("China", Family.CHINA, "china|chn"),
        ("Cowbell", Family.PERCUSSION, "cowbell|cow bell|cb"),
        ("Tambourine", Family.PERCUSSION, "tambourine|tamb|tambo"),
        ("Woodblock", Family.PERCUSSION, "woodblock|wood block|wb"),
        ("Shaker", Family.PERCUSSION, "shaker|shkr"),
        ("Clap", Family.PERCUSSION, "clap|claps|hand clap|handclap"),
        ("Conga", Family.PERCUSSION, "conga|congas"),
        ("Bongo", Family.PERCUSSION, "bongo|bongos"),
        ("Timbale", Family.PERCUSSION, "timbale|timbales"),
        ("Claves", Family.PERCUSSION, "claves|clave"),
        ("Triangle", Family.PERCUSSION, "triangle|tri"),
        ("Cabasa", Family.PERCUSSION, "cabasa"),
        ("Maracas", Family.PERCUSSION, "maracas|maraca"),
        ("Guiro", Family.PERCUSSION, "guiro"),
        ("Agogo", Family.PERCUSSION, "agogo"),
        ("Djembe", Family.PERCUSSION, "djembe"),
        ("Cajon", Family.PERCUSSION, "cajon"),
        ("Gong", Family.OTHER, "gong|tamtam"),
    ]
    for word in words.split("|")
}

NUMBERED_FAMILIES = {Family.TOM, Family.CRASH, Family.RIDE, Family.SPLASH, Family.CHINA}

ARTICULATIONS: dict[str, str] = {
    word: name
    for name, words in [
        ("centre", "centre|center|cntr|ctr|middle|head"),
        ("rimshot", "rimshot|rim shot|rimshots|rs"),
        ("rim", "rim"),
        ("side stick", "side stick|sidestick|cross stick|crossstick|xstick|x stick|stick|rim click|rimclick|ss"),
        ("half open", "half open|halfopen|half|semi open|semiopen|semi|ho"),
        ("tight", "tight|tite"),
        ("closed", "closed|close hat|cl|cls|clsd"),
        ("open", "open|opn|op"),
        ("pedal", "pedal|foot|chick|ped|pdl"),
        ("edge", "edge|edg"),
        ("tip", "tip"),
        ("shank", "shank"),
        ("bow", "bow"),
        ("bell", "bell|bl|cup"),
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
    "ohl": ["oh", "l"],
    "ohr": ["oh", "r"],
    "rml": ["room", "l"],
    "rmr": ["room", "r"],
}
"""Abbreviations written together."""

STRENGTH_MARKS = {"v", "vel", "velo", "velocity", "vl", "lay", "layer", "lyr", "dyn", "dynamic", "str", "strength"}
REPEAT_MARKS = {"rr", "r", "take", "tk", "t", "rep", "repeat", "hit", "alt", "var", "x", "robin", "round robin", "n"}
