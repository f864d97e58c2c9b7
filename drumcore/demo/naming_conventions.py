"""Ways of naming recordings, invented in the manner of many hands, for trials of the name reader.

The first forty were written before the reader was changed for them. The others were written in six rounds afterwards,
each tried once before the reader was changed for it; at first sight it placed 90, 77, 91, 85, 88 and 94 % of their
takes.
"""

from dataclasses import dataclass

from drumcore.kit.values import Family

F = Family
Texts = tuple[object, ...]


@dataclass(frozen=True)
class Struck:
    """An articulation: what a name says of piece and articulation, and what is meant. `piece` tells several pieces of
    one family apart; `said` may be several words, which a path places apart as {p} and {a}.
    """

    said: str
    family: Family
    articulation: str = "centre"
    piece: str = ""
    how: str = ""


@dataclass(frozen=True)
class Convention:
    """`path` is filled with {p} the piece as said, {a} the articulation as said, {v} the strength, {r} the repeat, {m}
    the microphone and {n} a running number. `padded` files are all of one length.
    """

    path: str
    struck: tuple[Struck, ...]
    strengths: Texts = (1, 2, 3)
    repeats: Texts = (1, 2)
    mics: tuple[str, ...] = ("",)
    padded: bool = False
    even: bool = False
    """All recordings were made equally loud, so that their levels tell nothing."""


def _s(said: str, family: Family, articulation: str = "centre", piece: str = "", how: str = "") -> Struck:
    return Struck(said, family, articulation, piece, how)


KICK, SNARE, RIDE = _s("Kick", F.KICK), _s("Snare", F.SNARE), _s("Ride", F.RIDE, "bow")
HATS = (_s("HH", F.HATS, "closed", how="Closed"), _s("HH", F.HATS, "open", how="Open"))
HIHAT = (
    _s("HiHat", F.HATS, "closed", how="Closed"),
    _s("HiHat", F.HATS, "open", how="Open"),
    _s("HiHat", F.HATS, "pedal", how="Pedal"),
)
TOMS = (_s("Tom1", F.TOM, piece="1"), _s("Tom2", F.TOM, piece="2"), _s("Tom3", F.TOM, piece="3"))

FIRST = (
    Convention("{p}_MicX{m}_{v}_{r}.wav", (KICK, SNARE), mics=("A", "B", "C")),
    Convention("{p}-m{m}-v{v}-t{r}.wav", (KICK, SNARE), mics=("1", "2")),
    Convention("{p} {v} {r} {m}.wav", (KICK, SNARE, RIDE), mics=("NR", "CL"), padded=True),
    Convention("{p}/Spot{m}/{v}_{r}.wav", (KICK, SNARE), repeats=(1,), mics=tuple("ABCDEFGHIJKLMNOP")),
    Convention("{m}/{p}_{v}_{r}.wav", (KICK, SNARE), mics=("Velvet", "Quartz"), padded=True),
    Convention("{m}_{p}_{v}_{r}.wav", (KICK, SNARE), mics=("Fern", "Moss", "Reed")),
    Convention("{p}_{a}_{v}_{r}.wav", (_s("BD", F.KICK, how="Cls"), _s("HH", F.HATS, "closed", how="Cls"), _s("HH", F.HATS, "open", how="Opn"))),
    Convention("{p}_{a}_v{v}_rr{r}.wav", (_s("Hat", F.HATS, "closed", how="Closed"), _s("Hat", F.HATS, "open 1", how="Open1"), _s("Hat", F.HATS, "open 2", how="Open2"), _s("Hat", F.HATS, "open 3", how="Open3"))),
    Convention("{p}_{v}_{r}.wav", (_s("BD", F.KICK), _s("SD", F.SNARE), _s("CC", F.CRASH, "edge"), _s("RC", F.RIDE, "bow"), _s("FT", F.TOM, piece="f"), _s("RT", F.TOM, piece="r"), _s("CB", F.PERCUSSION, "hit", "cb"), _s("TB", F.PERCUSSION, "hit", "tb"), _s("WB", F.PERCUSSION, "hit", "wb"))),
    Convention("{p}-{v}-{r}.wav", (_s("KDR", F.KICK), _s("SNR", F.SNARE), _s("CHH", F.HATS, "closed"), _s("OHH", F.HATS, "open"), _s("PHH", F.HATS, "pedal"), _s("CRS", F.CRASH, "edge"), _s("SPL", F.SPLASH, "edge"), _s("CHN", F.CHINA, "edge"))),
    Convention("{a} {p} {v} {r}.wav", (_s("block", F.PERCUSSION, "high", how="hi"), _s("block", F.PERCUSSION, "low", how="lo"))),
    Convention("{p}_{a}_{v}_{r}.wav", (_s("shaker", F.PERCUSSION, "fwd", how="fwd"), _s("shaker", F.PERCUSSION, "back", how="back"))),
    Convention("{p}_p{v}_{r}.wav", (KICK, SNARE, RIDE), strengths=(1, 2, 3, 4, 5)),
    Convention("{p} {v} {r}.wav", (KICK, SNARE), strengths=("ghost", "light", "normal", "accent", "max")),
    Convention("{p}/RR{r}/{p}_{v}.wav", (KICK, SNARE, RIDE), strengths=(1, 2, 3, 4), repeats=(1, 2, 3)),
    Convention("{p}/{r}/{v}_{m}.wav", (KICK, SNARE), strengths=(1, 2, 3, 4), repeats=(1, 2, 3), mics=("Close", "Room")),
    Convention("{m} {p} {v} {r}.wav", (KICK, SNARE), mics=("Near", "Room Near", "Overhead Close")),
    Convention("{p}_{v}_{r}_{m}.wav", (SNARE, RIDE), mics=("L", "R"), padded=True),
    Convention("{p}_{v}_{r}.wav", (SNARE, _s("Floor Tom", F.TOM)), repeats=("L1", "R1", "L2", "R2")),
    Convention("{p}_{n:03d}.wav", (KICK, SNARE), strengths=(3,), repeats=tuple(range(30))),
    Convention("{p}.{v}.{r}.{m}.wav", (KICK, SNARE, *HATS[:1]), mics=("Amber", "Teal")),
    Convention("{p}{v}{m}{r}.wav", (KICK, SNARE), mics=("x", "y")),
    Convention("Session 2/{m}/{p}/{m}_{p}_{v}_{r}.wav", (KICK, SNARE, RIDE), mics=("Pos1", "Pos2", "Pos3")),
    Convention("{m}/{p} L{v} {r}.wav", (KICK, SNARE, *TOMS[:2]), mics=("01 Kick", "02 Snare", "03 OH", "04 Rm"), repeats=(1,)),
    Convention("{p}_{v}_{r}_Ch{m}.wav", (KICK, SNARE), mics=("1", "2", "3", "4"), padded=True),
    Convention("{p}{a}_{v}-{r}.wav", (_s("HHC", F.HATS, "closed 1", how="1"), _s("HHC", F.HATS, "closed 2", how="2"), _s("HHO", F.HATS, "open 1", how="1"), _s("HHO", F.HATS, "open 2", how="2"), _s("HHP", F.HATS, "pedal"))),
    Convention("{p}-{v:02d}-{r}.wav", (_s("HT", F.TOM, piece="1"), _s("MT", F.TOM, piece="2"), _s("LT", F.TOM, piece="3"), _s("FT", F.TOM, piece="4"))),
    Convention("{p}{a} vl{v} rr{r}.wav", (_s("CC1", F.CRASH, "edge", "1"), _s("CC2", F.CRASH, "edge", "2"), _s("RC", F.RIDE, "bow"), _s("RC", F.RIDE, "bell", how=" bell"))),
    Convention("{p}_{v}{r}.wav", (KICK, SNARE, RIDE), strengths=("p", "mf", "f", "ff")),
    Convention("{p} {v}{r}.wav", (KICK, SNARE), strengths=("soft", "medium", "loud"), repeats=("a", "b", "c")),
    Convention("{p}/{v}/{p} {r}.wav", (KICK, SNARE, RIDE), strengths=("Gentle", "Firm", "Brutal")),
    Convention("{p}/{v}/{r}.wav", (KICK, SNARE), strengths=("001-040", "041-080", "081-127"), repeats=(1, 2, 3)),
    Convention("Round {r}/{p} {v}.wav", (KICK, SNARE, RIDE), strengths=(1, 2, 3, 4), repeats=(1, 2, 3)),
    Convention("{p} {n:02d}.wav", (KICK, SNARE), strengths=(1, 2, 3), repeats=(1, 2, 3, 4)),
    Convention("{p} {a} {v} {r}.wav", (_s("guiro", F.PERCUSSION, "long", how="long"), _s("guiro", F.PERCUSSION, "short", how="short"))),
    Convention("{p}_{a}_{v}_{r}.wav", (_s("triangle", F.PERCUSSION, "mute", how="mute"), _s("triangle", F.PERCUSSION, "ring", how="ring"))),
    Convention("{p}_vel{v}_{r}.wav", (KICK, SNARE), strengths=(40, 80, 120), even=True),
    Convention("{p} {v} {r}.wav", (KICK, SNARE), strengths=("soft", "medium", "hard"), even=True),
    Convention("{p}{a}{v}_{r}.wav", (_s("Snr", F.SNARE, how="Ctr"), _s("Snr", F.SNARE, "rimshot", how="Rsh"), _s("Snr", F.SNARE, "side stick", how="Xst"))),
    Convention("{p}/{m}/{a}/{p}-{a}-{m}-V{v}-{r}.wav", (_s("Ride", F.RIDE, "bow", how="Bow"), _s("Ride", F.RIDE, "bell", how="Bell"), _s("Crash", F.CRASH, "edge", how="Edge")), mics=("Alpha", "Beta"), padded=True),
)  # fmt: skip

LATER = (
    Convention("{p}/{a}/Vel {v}/{m} {r}.wav",HIHAT,mics=("A","B")),
    Convention("{p}_{a}_{m}_{v}_{r}.wav",HIHAT,mics=("NR","FR"),padded=True),
    Convention("{v}_{r}_{p}_{m}.wav",(KICK,SNARE),strengths=(10,60,120),mics=("Wide","Tight")),
    Convention("{p} {v} of 5 {r}.wav",(KICK,SNARE,RIDE),strengths=(1,2,3,4,5)),
    Convention("{m}/{p}_{a}_{v}{r}.wav",(_s("SN",F.SNARE,how="C"),_s("SN",F.SNARE,"rimshot",how="R"),_s("SN",F.SNARE,"side stick",how="X")),repeats=("a","b"),mics=("Spot","Air")),
    Convention("{p}_Hit{r}_Level{v}.wav",(KICK,SNARE),strengths=(1,2,3,4,5)),
    Convention("{p} Vel{v} ({m}) {r}.wav",(KICK,SNARE,*TOMS),mics=("In","Out","OH"),repeats=(1,)),
    Convention("{p}{n:02d}-{m}.wav",(KICK,SNARE),strengths=(1,2,3),repeats=(1,2,3),mics=("NR","FR")),
    Convention("{p}-{a}-p{v}-{r}.wav",(_s("Ride",F.RIDE,"bow",how="Bow"),_s("Ride",F.RIDE,"bell",how="Bell")),strengths=(1,2,3,4,5)),
    Convention("{p}_{v}_{r}.wav",(KICK,SNARE),strengths=("ghost","light","normal","accent","max")),
    Convention("{p}_{v}_{r}.wav",(_s("HHO1",F.HATS,"o1"),_s("HHO2",F.HATS,"o2"),_s("HHO3",F.HATS,"o3"),_s("HHC",F.HATS,"closed"))),
    Convention("{p} {a} {v} {r}.wav",(_s("Hat",F.HATS,"o1",how="Open 1"),_s("Hat",F.HATS,"o2",how="Open 2"),_s("Hat",F.HATS,"closed",how="Closed")),strengths=("soft","hard"),repeats=("a","b","c")),
    Convention("RR{r}/{p}/{p}_{v}_{m}.wav",(KICK,SNARE),strengths=(1,2,3,4),repeats=(1,2,3),mics=("Close","Room")),
    Convention("{p}/RR {r}/{v}.wav",(KICK,SNARE,RIDE),strengths=("soft","medium","hard"),repeats=(1,2,3)),
    Convention("{p}_{v}_{r}.wav",(_s("CC",F.CRASH,"edge"),_s("SPL",F.SPLASH,"edge"),_s("CHN",F.CHINA,"edge"),_s("RC",F.RIDE,"bow"))),
    Convention("{p}.{r}.{v}.wav",(_s("CB",F.PERCUSSION,"hit"),_s("TB",F.PERCUSSION,"hit","t"),_s("WB",F.PERCUSSION,"hit","w"))),
    Convention("{p} {a} v{v} {r}.wav",(_s("shaker",F.PERCUSSION,"f",how="fwd"),_s("shaker",F.PERCUSSION,"b",how="back"))),
    Convention("{a}block_{v}_{r}.wav",(_s("x",F.PERCUSSION,"h",how="hi"),_s("x",F.PERCUSSION,"l",how="lo"))),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("block",F.PERCUSSION,"h",how="hi"),_s("block",F.PERCUSSION,"l",how="lo"))),
    Convention("{p}-Spot{m}-{v}-{r}.wav",(KICK,SNARE),mics=tuple("ABCDEFGHIJKLMNOP"),repeats=(1,),padded=True),
    Convention("m{m}/{p} {v} {r}.wav",(KICK,SNARE),mics=("1","2","3"),padded=True),
    Convention("{p} [{m}] {v}{r}.wav",(KICK,SNARE),strengths=("A","B","C"),repeats=(1,2),mics=("CL","RM","OH")),
    Convention("{p}_{m}_{v}_{r}.wav",(_s("Snr",F.SNARE),_s("Kik",F.KICK)),mics=("Cls","Rm")),
    Convention("{p}_{v}_{r}_{m}.wav",(KICK,SNARE),strengths=("v1","v2","v3"),mics=("pair L","pair R")),
    Convention("{p}_{m}{v}-{r}.wav",(KICK,SNARE),mics=("top","btm")),
    Convention("{p}_{v}_{r}_{m}.wav",(_s("Kick22",F.KICK),_s("Snare14",F.SNARE)),mics=("near","mid","far")),
    Convention("{p}_LH_{v}_{r}.wav",(SNARE,_s("Floor",F.TOM))),
    Convention("Brushes/{p}/{a} {v} {r}.wav",(_s("Snare",F.SNARE,"tap",how="tap"),_s("Snare",F.SNARE,"swirl",how="swirl"))),
    Convention("{p}/{v}/{r}/{m}.wav",(KICK,SNARE,RIDE),strengths=(1,2,3),repeats=(1,2),mics=("Tern","Rook")),
    Convention("{p}_{m}_{v}_{r}.wav",(KICK,SNARE,_s("Floor",F.TOM)),mics=("Dyn","Cond"),repeats=(1,2,3)),
    Convention("{p}-{a}-{v}-{r}-{m}.wav",(_s("SN",F.SNARE,how="CTR"),_s("SN",F.SNARE,"rimshot",how="RIMSHOT"),_s("SN",F.SNARE,"side stick",how="XSTICK")),mics=("TOP","BOT","OHS"),strengths=("V1","V2","V3","V4")),
    Convention("{n:03d}_{p}_{v}.wav",(KICK,SNARE),strengths=("Soft","Med","Hard"),repeats=(1,2,3)),
    Convention("{p} {v}{r}.wav",(_s("Kik",F.KICK),_s("Snr",F.SNARE),_s("Rd",F.RIDE,"bow")),strengths=("A","B","C","D"),repeats=(1,2)),
    Convention("{p}_Velocity{v}_RoundRobin{r}.wav",(KICK,SNARE,RIDE),strengths=(1,2,3,4)),
    Convention("{p}_{v:03d}_{r}.wav",(_s("Crash_A",F.CRASH,"edge","a"),_s("Crash_B",F.CRASH,"edge","b"),RIDE),strengths=(15,50,90,127)),
    Convention("{p}/{p}_L{v}_S{r}.wav",(KICK,SNARE,*TOMS),strengths=(1,2,3),repeats=(1,2,3)),
    Convention("{p}.d{v}.h{r}.{m}.wav",(KICK,SNARE),mics=("k","s","o","r")),
    Convention("{p}{v}-{r}.wav",(_s("OHH",F.HATS,"open"),_s("CHH",F.HATS,"closed"),_s("BD",F.KICK),_s("LT",F.TOM,piece="l"),_s("HT",F.TOM,piece="h"))),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("tambourine",F.PERCUSSION,"jingle",how="jingle"),_s("tambourine",F.PERCUSSION,"knock",how="knock"))),
    Convention("{p} ({v}) [{r}].wav",(KICK,SNARE,*HATS[:1]),strengths=("pp","p","mf","f","ff")),
    Convention("Drums_{m}_{p}_{v}{r}.wav",(KICK,SNARE),strengths=("lo","mid","hi"),repeats=("a","b","c"),mics=("dir","amb")),
    Convention("{r}/{p}/{v}.wav",(KICK,SNARE,RIDE),strengths=(1,2,3,4,5),repeats=("Pass A","Pass B")),
    Convention("{p} - {a} - {v} - {r}.wav",(_s("Ride",F.RIDE,"bow",how="Bow"),_s("Ride",F.RIDE,"bell",how="Bell"),_s("Ride",F.RIDE,"edge",how="Crash")),strengths=("Quiet","Normal","Loud")),
    Convention("{m}-{n:02d} {p}.wav",(KICK,SNARE),mics=("Kit Left","Kit Right"),strengths=(1,2,3),repeats=(1,2)),
    Convention("{p}_{v}.{r}.wav",(_s("Snare_On",F.SNARE,"on"),_s("Snare_Off",F.SNARE,"off")),strengths=(1,2,3,4)),
    Convention("{p}_{v}_{r}.wav",(_s("TomHi",F.TOM,piece="1"),_s("TomMid",F.TOM,piece="2"),_s("TomLo",F.TOM,piece="3"),_s("TomFloor",F.TOM,piece="4"))),
    Convention("{p}/{m} {v} {r}.wav",(KICK,SNARE),mics=("Sub","Beater","Stereo Room"),padded=True),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("Conga",F.PERCUSSION,"open",how="Open"),_s("Conga",F.PERCUSSION,"slap",how="Slap"),_s("Conga",F.PERCUSSION,"mute",how="Muted"))),
    Convention("{p}.{v}.wav",(KICK,SNARE,RIDE),strengths=tuple(range(1,13)),repeats=(1,)),
    Convention("{p} {r}.wav",(KICK,SNARE,RIDE),strengths=(1,),repeats=tuple(range(1,9))),
    Convention("{p}_{v}_{r}.wav",(_s("Hat_1",F.HATS,"open 1"),_s("Hat_2",F.HATS,"open 2"),_s("Hat_3",F.HATS,"open 3"),KICK)),
    Convention("{v} {p} {r}.wav",(KICK,SNARE),strengths=("Tap","Swing","Slam")),
    Convention("{p}/{a}/{m}/{p}{a}_{v}_{r}.wav",(_s("Snare",F.SNARE,how="Center"),_s("Snare",F.SNARE,"rimshot",how="RimShot"),_s("Snare",F.SNARE,"flam",how="Flam")),mics=("SnTop","SnBot","Ovhd","RoomFar")),
    Convention("{m}_{p}{v:02d}{r}.wav",(_s("BD",F.KICK),_s("SD",F.SNARE)),repeats=("a","b","c"),mics=("X","Y")),
    Convention("{p} Hard {v} Rnd {r}.wav",(KICK,SNARE),strengths=(1,2,3,4)),
    Convention("{p}_Tk{n:02d}_{m}.wav",(KICK,SNARE),strengths=(1,2,3),repeats=(1,2,3),mics=("Ribbon","Condenser"),padded=True),
    Convention("KIT01_{p}_{v}_{r}_{m}.wav",(_s("KDR",F.KICK),_s("SNR",F.SNARE),_s("FTM",F.TOM)),mics=("01","02","03"),padded=True),
    Convention("{v}/{p}_{r}.wav",(KICK,SNARE,RIDE),strengths=("1 soft","2 medium","3 hard")),
    Convention("{p}/{v} - {r}.wav",(_s("Hi-Hat Closed",F.HATS,"closed"),_s("Hi-Hat Half",F.HATS,"half open"),_s("Hi-Hat Open",F.HATS,"open"),_s("Hi-Hat Pedal",F.HATS,"pedal"))),
    Convention("{p}_{v}_{r}_{m}.wav",(KICK,_s("Snare",F.SNARE)),mics=("Near","Far","Cls")),
    Convention("{p}{v}{r}{m}.wav",(KICK,SNARE),strengths=(1,2,3),repeats=("a","b"),mics=("L","R")),
    Convention("{p}_vel{v}_alt{r}.wav",(_s("cowbell_open",F.PERCUSSION,"open"),_s("cowbell_muted",F.PERCUSSION,"mute"),_s("cowbell_edge",F.PERCUSSION,"edge"))),
    Convention("{p} {r} of 4 - {v}.wav",(KICK,SNARE),strengths=("p","mp","mf","f"),repeats=(1,2,3,4)),
    Convention("{p}-{v}.{r}.wav",(_s("16inCrash",F.CRASH,"edge","16"),_s("18inCrash",F.CRASH,"edge","18"),_s("20inRide",F.RIDE,"bow"))),
    Convention("RR{r}/V{v}/{p}.wav",(KICK,SNARE,*TOMS),strengths=(1,2,3),repeats=(1,2)),
    Convention("{p}_{m}{r}_{v}.wav",(KICK,SNARE),mics=("c","o")),
    Convention("{p}.{v}{r}.wav",(KICK,SNARE),strengths=("x","y","z"),repeats=(1,2,3)),
    Convention("Samples/{p}/hit{r}-vel{v}.wav",(_s("Kick Drum",F.KICK),_s("Snare Drum",F.SNARE),_s("Floor Tom",F.TOM)),strengths=(30,60,90,120)),
    Convention("{p}_f{v}_{r}.wav",(KICK,SNARE),strengths=(1,2,3,4)),
    Convention("{p}_{v}_{r}.wav",(_s("shaker_in",F.PERCUSSION,"in"),_s("shaker_out",F.PERCUSSION,"out"))),
    Convention("{p}_{v}_{r}.wav",(_s("snare_brush_swirl",F.SNARE,"swirl"),_s("snare_brush_hit",F.SNARE,"bhit"))),
    Convention("{p} {v} {r}.wav",(KICK,SNARE),strengths=("feather","light","firm","full")),
    Convention("{m} - {p} - {v} - {r}.wav",(KICK,SNARE,RIDE),mics=("Room Close","Room Far","Spot")),
    Convention("{p}_{v}_{r}.wav",(_s("HatsTight",F.HATS,"tight"),_s("HatsLoose",F.HATS,"loose"),_s("HatsOpen",F.HATS,"open"))),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("CHH",F.HATS,"closed tip",how="Tip"),_s("CHH",F.HATS,"closed shank",how="Shank"),_s("OHH",F.HATS,"open tip",how="Tip"))),
    Convention("{p}_{n}.wav",(KICK,SNARE,RIDE),strengths=(1,2,3,4),repeats=(1,2,3)),
    Convention("{p}_{v}_{r}.wav",(_s("Tom",F.TOM,piece="1"),_s("Tom-2",F.TOM,piece="2")),),
    Convention("{p}/{m}_{v}_{r}.wav",(KICK,SNARE),mics=("A1","A2","B1","B2")),
    Convention("{p}_s{v}_r{r}_m{m}.wav",(KICK,SNARE),mics=("1","2"),padded=True),
    Convention("{p} {v}-{r} {m}.wav",(KICK,SNARE),mics=("dark","bright"),padded=True),
    Convention("{p}_v{v}.wav",(KICK,SNARE,RIDE),strengths=tuple(range(1,128,9)),repeats=(1,)),
    Convention("{p}_{v}_{r}.wav",(_s("RD_bow",F.RIDE,"bow"),_s("RD_bell",F.RIDE,"bell"),_s("RD_edge",F.RIDE,"edge"),_s("RD_choke",F.RIDE,"choke"))),
    Convention("{m}Mic_{p}_vl{v}_rr{r}.wav",(KICK,SNARE),mics=("SnareTop","SnareBottom","KickIn","Overhead","Room")),
    Convention("{p}_{v}_{r}_{m}.wav",(KICK,SNARE,*HATS[:1]),mics=("BDin","SDtop","HHmic","OHL","OHR")),
    Convention("{p}-{v:02d}-{r:02d}.wav",(KICK,SNARE),strengths=tuple(range(1,11)),repeats=(1,2,3)),
    Convention("{p}_{v}_{r}.wav",(KICK,SNARE),strengths=(1,2,3),repeats=tuple(range(1,11))),
    Convention("{p} v{v} take {r}.wav",(KICK,SNARE),strengths=("1-42","43-85","86-127")),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("HH",F.HATS,"closed",how="cl"),_s("HH",F.HATS,"half open",how="ho"),_s("HH",F.HATS,"open",how="op"),_s("HH",F.HATS,"pedal",how="ft"))),
    Convention("0{v}/{r}/{p}.wav",(KICK,SNARE,RIDE),strengths=(1,2,3,4),repeats=(1,2)),
    Convention("{p}/{p} {m} {v}-{r}.wav",(_s("01 Kick",F.KICK),_s("02 Snare",F.SNARE)),mics=("close","far")),
    Convention("{p}_{v}_{r}.wav",(_s("Tom10",F.TOM,piece="1"),_s("Tom12",F.TOM,piece="2"),_s("Tom14",F.TOM,piece="3"))),
    Convention("{p}{v}_{r}.wav",(_s("Rack1_",F.TOM,piece="1"),_s("Rack2_",F.TOM,piece="2"),_s("Floor1_",F.TOM,piece="3"))),
    Convention("{p}V{v}R{r}.WAV",(_s("BD",F.KICK),_s("SD",F.SNARE),_s("CHH",F.HATS,"closed"))),
    Convention("{v}_{p}_v{v}_rr{r}.wav",(KICK,SNARE)),
    Convention("36_{p}_v{v}_rr{r}.wav",(KICK,SNARE)),
    Convention("{p}_{v}_{r} ({m}).wav",(KICK,SNARE),mics=("ST","MN")),
    Convention("{p}_{v}_{r}_{m}.wav",(KICK,SNARE),mics=("dry","wet"),padded=True),
    Convention("tr{m}/{p}_{v}_{r}.wav",(KICK,SNARE),mics=("01","02","03","04","05","06"),padded=True),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("Hat",F.HATS,"closed tip",how="ClosedTip"),_s("Hat",F.HATS,"closed shank",how="ClosedShank"),_s("Hat",F.HATS,"open",how="Open"))),
    Convention("{p} {r}{v}.wav",(KICK,SNARE),strengths=("S","M","L"),repeats=(1,2,3)),
    Convention("{p}_D{v}_{r}.wav",(KICK,SNARE),strengths=(1,2,3,4)),
    Convention("{p}/{a}{v}_{r}.wav",(_s("Snare",F.SNARE,how="hit"),_s("Snare",F.SNARE,"rim",how="rim"))),
    Convention("{m}.{p}.{v}.{r}.wav",(KICK,SNARE,RIDE),mics=("Heron","Plover")),
    Convention("{p}_{v}_{r}.wav",(_s("Crash Left",F.CRASH,"edge","l"),_s("Crash Right",F.CRASH,"edge","r"),_s("China",F.CHINA,"edge"))),
    Convention("{p} {v} ({r}).wav",(KICK,SNARE),strengths=("Very Soft","Soft","Medium","Hard","Very Hard")),
    Convention("{v}/{p} {r}.wav",(KICK,SNARE),strengths=("Layer 1","Layer 2","Layer 3"),repeats=("a","b")),
    Convention("{p}_{v}{r}_{m}.wav",(KICK,SNARE),strengths=("A","B","C"),mics=("F","B","T")),
    Convention("{p}_RR{r}_{v}.wav",(KICK,SNARE,RIDE),strengths=("020","060","100","127"),repeats=(1,2,3)),
    Convention("{p}_{m}_{v}_{r}.wav",(_s("conga",F.PERCUSSION,"hit"),_s("bongo",F.PERCUSSION,"hit","b")),mics=("front","back")),
    Convention("{p}_{v}_{r}.wav",(_s("Stick",F.PERCUSSION,"hit","s"),_s("Clap",F.PERCUSSION,"hit","c"),KICK)),
    Convention("{p} {v} {r}.wav",(_s("Block High",F.PERCUSSION,"high"),_s("Block Mid",F.PERCUSSION,"mid"),_s("Block Low",F.PERCUSSION,"low"))),
    Convention("{m}/{p}/{p}_{v}{r}.wav",(KICK,SNARE),strengths=("p","m","f"),repeats=(1,2),mics=("1_Close","2_OH","3_Room")),
    Convention("{p}_{v}_{r}.wav",(_s("kick_felt",F.KICK,"felt"),_s("kick_wood",F.KICK,"wood")),),
    Convention("{p}_{v}_{r}.wav",(_s("snare",F.SNARE),_s("snare_off",F.SNARE,"off"),_s("snare_rs",F.SNARE,"rimshot"))),
    Convention("{p}-Soft-{v}-{r}.wav",(KICK,SNARE)),
    Convention("{p}_{v}_{r}.wav",(KICK,),padded=True),
    Convention("{p}_{v}_{r}.wav",(KICK,),padded=True,repeats=(1,2,3,4)),
    Convention("{p}_{v}{r}.wav",(SNARE,),padded=True,repeats=("a","b")),
    Convention("{p} {r}.wav",(KICK,SNARE,RIDE,*TOMS),strengths=(1,),repeats=(1,2),padded=True),
    Convention("{p}_{v}.wav",(KICK,SNARE),strengths=(1,2,3,4,5,6),repeats=(1,),padded=True),
    Convention("{p}_{v}_{r}.wav",(KICK,SNARE),repeats=("L","R"),padded=True),
    Convention("{p}_{v}_{r}_{m}.wav",(KICK,),mics=("A","B"),padded=True),
    Convention("{p}_{m}_{n}.wav",(SNARE,),mics=("q","w","e"),padded=True,strengths=(1,2,3),repeats=(1,2)),
    Convention("{p}{n}{m}.wav",(SNARE,KICK),mics=("in","out"),padded=True,strengths=(1,2,3),repeats=(1,2)),
    Convention("{p}_{v}_{r}.wav",(_s("tom_hi",F.TOM,piece="1"),_s("tom_lo",F.TOM,piece="2")),padded=True),
    Convention("{p}_take{r}_layer{v}.wav",(KICK,),strengths=(1,2,3,4),repeats=(1,2)),
    Convention("{p}_{v}_{r}.wav",(KICK,SNARE),strengths=("low","medium","high")),
    Convention("{p}_{v}_{r}.wav",(KICK,SNARE),strengths=("lo","hi")),
    Convention("{p}_{v}_{r}.wav",(_s("tamb",F.PERCUSSION,"hit"),),strengths=("lo","mid","hi")),
    Convention("{p}-{r}-{v}.wav",(KICK,SNARE,RIDE),strengths=tuple(range(1,9)),repeats=(1,2,3,4)),
    Convention("{p}_{v}_{r}_{m}.wav",(KICK,SNARE,RIDE,*TOMS),mics=("Kick","Snare","OH","Room"),strengths=(1,2,3,4),repeats=(1,2)),
    Convention("{m}/{p}_{v}_{r}.wav",(KICK,SNARE,RIDE,*TOMS),mics=("Kick","Snare","OH","Room"),strengths=(1,2,3,4),repeats=(1,2),padded=True),
    Convention("{p}_{m}_{v}_{r}.wav",(_s("hat",F.HATS,"closed"),_s("hat_open",F.HATS,"open")),mics=("close","room"),strengths=(1,2,3,4),repeats=(1,2),padded=True),
    Convention("{p}_{v}_x{r}.wav",(KICK,SNARE),strengths=("25","50","75","100"),),
    Convention("{p}_{v}dB_{r}.wav",(KICK,SNARE),strengths=("-30","-20","-10"),),
    Convention("{p}_{r}_{v}.wav",(KICK,SNARE),strengths=("soft","softmed","medhard","hard"),),
    Convention("{p}/{v}/{p}_{v}_{r:02d}_{m}.wav",(KICK,SNARE),strengths=("Soft","Hard"),repeats=(1,2,3),mics=("Q7","W31","Z88")),
    Convention("{m}/{p}_{v}_{r}.wav",(KICK,SNARE),mics=("01-Kick-In","02-Kick-Out","03-Snare","04-OH")),
    Convention("{p}_Vel{v}_RR{r}_{m}.wav",(SNARE,KICK),mics=("SnTop","SnBot","OHL","OHR","RmL","RmR")),
    Convention("{p}_{v}_{r}.wav",(_s("KickA",F.KICK,piece="a"),_s("KickB",F.KICK,piece="b"),SNARE)),
    Convention("{p}{a}_{v}_{r}_{m}.wav",(_s("Snare",F.SNARE,"rimshot",how="RimShot"),_s("Snare",F.SNARE,how="Center")),strengths=("p","mf","ff"),mics=("CL","OH_L","OH_R","RM_L","RM_R")),
    Convention("{p}_{a}_{v}_{r}.wav",tuple(_s("Hat",F.HATS,f"c{k}{e}",how=f"Closed{k}_{e}") for k in (1,2) for e in ("Tip","Edge"))),
    Convention("{p}{v}_{r}_mic{m}.wav",(_s("RideBell",F.RIDE,"bell"),_s("RideBow",F.RIDE,"bow"),KICK),mics=("1","2")),
    Convention("{p}_Vel{v}_{r}.wav",(KICK,SNARE),strengths=("A","B","C","D")),
    Convention("{p}_{v}pct_{r}.wav",(KICK,SNARE),strengths=(25,50,75,100)),
    Convention("{p} {v}{r}.wav",(KICK,SNARE,RIDE),strengths=("Soft","Med","Hard"),repeats=(1,2,3)),
    Convention("{p}_{v}_{r}.wav",(KICK,SNARE),strengths=(1,2,3),repeats=("one","two","three")),
    Convention("{p}_{v}_{r}.wav",(KICK,SNARE),strengths=("one","two","three"),repeats=("a","b")),
    Convention("{p}_{v}_{r}_{m}.wav",(KICK,SNARE),mics=("mic1 close","mic2 oh","mic3 room")),
    Convention("{p} {v}.{r}.wav",(KICK,SNARE,*TOMS),),
    Convention("{p}/{v}_{r}.wav",(_s("BigDrum",F.OTHER,"hit"),_s("Oil Can",F.OTHER,"hit","o"))),
    Convention("{p}_{v}_{r}.wav",(_s("Crash16",F.CRASH,"edge","1"),_s("Crash18",F.CRASH,"edge","2"),_s("Ride20",F.RIDE,"bow"))),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("SnareA",F.SNARE,"centre","a",how="C"),_s("SnareA",F.SNARE,"rim","a",how="Rim"),_s("SnareB",F.SNARE,"centre","b",how="C"),_s("SnareB",F.SNARE,"rim","b",how="Rim"))),
    Convention("{p}_{a}_{v}_{r}.wav",(_s("TomHigh",F.TOM,"centre","h",how="Head"),_s("TomHigh",F.TOM,"rim","h",how="Rim"),_s("TomLow",F.TOM,"centre","l",how="Head"))),
    Convention("{p}_felt_v2_{v}_{r}.wav",(KICK,SNARE)),
    Convention("{p}_{v}_{r}_v2.wav",(KICK,SNARE)),
    Convention("{p}_{v}_{r}_48k_24b.wav",(KICK,SNARE)),
    Convention("2026-01-02/{p}/{v}_{r}.wav",(KICK,SNARE)),
    Convention("{m}/Take {r}/{p}_{v}.wav",(KICK,SNARE,RIDE),strengths=(1,2,3,4),mics=("Close","Over")),
    Convention("{p}{m}_{v}_{r}.wav",(_s("BD",F.KICK),_s("SD",F.SNARE)),mics=("i","o")),
    Convention("{p}_{v}_{r}_OH-{m}.wav",(KICK,SNARE),mics=("1","2"),padded=True),
    Convention("vel_{v:03d}/{p}_{r}.wav",(KICK,SNARE),strengths=(1,64,127)),
    Convention("[{p}][{v}][{r}].wav",(KICK,SNARE)),
    Convention("hh_{p}_{v}_{r}.wav",(_s("o",F.HATS,"open"),_s("c",F.HATS,"closed"),_s("p",F.HATS,"pedal"))),
    Convention("{p}_{v}_{r}.wav",(_s("Perc1",F.OTHER,"hit","1"),_s("Perc2",F.OTHER,"hit","2"))),
    Convention("{p}_L{v}R{r}.wav",(KICK,SNARE,*TOMS)),
    Convention("{p}_{r}L{v}.wav",(KICK,SNARE)),
    Convention("{p} - {m} - {v} - {r}.wav",(KICK,SNARE),mics=("Top Mic","Under Mic","Stereo OH")),
    Convention("{p}_hit_{v}_{r}.wav",(_s("snare",F.SNARE),_s("kick",F.KICK))),
    Convention("{m}{p}{v}{r}.wav",(KICK,SNARE),strengths=("p","m","f"),mics=("oh","cl","rm")),
)  # fmt: skip
