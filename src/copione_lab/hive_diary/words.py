"""The app's words in its three languages, keyed by the English ones. Names of hives are data and stay as they are."""

from __future__ import annotations

_PAIRS: dict[str, tuple[str, str]] = {
    "Search": ("Suchen", "חיפוש"),
    "Hives": ("Völker", "כוורות"),
    "About": ("Über", "אודות"),
    "Good morning": ("Guten Morgen", "בוקר טוב"),
    "Twenty-four hives, four of them due for a look inside.": (
        "Vierundzwanzig Völker, bei vieren ist eine Durchsicht fällig.",
        "עשרים וארבע כוורות, ארבע מהן ממתינות לבדיקה.",
    ),
    "Honeycomb": ("Honigwabe", "חלת דבש"),
    "Comb picture": ("Wabenbild", "תמונת חלה"),
    "Keeps what you saw in the hive, and when.": ("Hält fest, was im Volk zu sehen war, und wann.", "שומר מה ראית בכוורת, ומתי."),
    "Choose a hive": ("Volk auswählen", "בחרו כוורת"),
    "Last seen": ("Zuletzt gesehen", "נראתה לאחרונה"),
    "Brood frames": ("Brutwaben", "מסגרות דגירה"),
    "Temper": ("Wesen", "מזג"),
    "Weight": ("Gewicht", "משקל"),
    "Queen seen": ("Königin gesehen", "המלכה נראתה"),
    "Note": ("Notiz", "הערה"),
    "Notes": ("Notizen", "הערות"),
    "No note": ("Keine Notiz", "אין הערה"),
    "New inspection": ("Neue Durchsicht", "בדיקה חדשה"),
    "Save inspection": ("Durchsicht speichern", "שמירת הבדיקה"),
    "Inspection saved": ("Durchsicht gespeichert", "הבדיקה נשמרה"),
    "Back to hives": ("Zurück zu den Völkern", "חזרה לכוורות"),
    "Calm": ("Ruhig", "רגועה"),
    "Nervous": ("Nervös", "עצבנית"),
    "Hot": ("Stechlustig", "תוקפנית"),
    "Today": ("Heute", "היום"),
    "Yes": ("Ja", "כן"),
    "No": ("Nein", "לא"),
    "due": ("fällig", "ממתינה"),
    "More": ("Mehr", "עוד"),
    "Cancel": ("Abbrechen", "ביטול"),
    "Begin inspection": ("Durchsicht beginnen", "התחלת בדיקה"),
    "Apiary map": ("Standkarte", "מפת המכוורת"),
    "Comb sketch": ("Wabenskizze", "שרטוט חלה"),
    "Draw what you saw": ("Zeichne, was zu sehen war", "ציירו מה ראיתם"),
    "Clear": ("Leeren", "ניקוי"),
    "Tasks": ("Aufgaben", "משימות"),
    "Settings": ("Einstellungen", "הגדרות"),
    "Night mode": ("Nachtmodus", "מצב לילה"),
    "Remind after days": ("Erinnern nach Tagen", "תזכורת אחרי ימים"),
    "Fewer days": ("Weniger Tage", "פחות ימים"),
    "More days": ("Mehr Tage", "יותר ימים"),
    "Sign in": ("Anmelden", "כניסה"),
    "Signed in": ("Angemeldet", "מחובר"),
    "Name": ("Name", "שם"),
    "Password": ("Passwort", "סיסמה"),
    "Feed sugar": ("Zucker füttern", "האכלת סוכר"),
    "Check queen": ("Königin prüfen", "בדיקת מלכה"),
    "Hive removed": ("Volk entfernt", "הכוורת הוסרה"),
    "Undo": ("Rückgängig", "ביטול פעולה"),
    "Remove": ("Entfernen", "הסרה"),
    "Rate this app": ("App bewerten", "דרגו את האפליקציה"),
    "Now": ("Jetzt", "עכשיו"),
    "Past visits": ("Frühere Besuche", "ביקורים קודמים"),
    "Marked for a second look": ("Für einen zweiten Blick vorgemerkt", "סומנה למבט נוסף"),
    "Up to date": ("Auf dem neuesten Stand", "מעודכן"),
    "Weather": ("Wetter", "מזג אוויר"),
    "Sunny": ("Sonnig", "שמשי"),
    "Cloudy": ("Bewölkt", "מעונן"),
    "Windy": ("Windig", "סוער"),
    "Rainy": ("Regnerisch", "גשום"),
    "Visited on": ("Besucht am", "תאריך הביקור"),
    "Previous month": ("Vorheriger Monat", "החודש הקודם"),
    "Next month": ("Nächster Monat", "החודש הבא"),
    "OK": ("OK", "אישור"),
    "Done": ("Fertig", "סיום"),
    "Honey supers": ("Honigräume", "קומות דבש"),
    "One super less": ("Ein Honigraum weniger", "קומה אחת פחות"),
    "One super more": ("Ein Honigraum mehr", "קומה אחת יותר"),
    "No photo": ("Kein Foto", "אין תמונה"),
    "photo": ("Foto", "תמונה"),
    "photos": ("Fotos", "תמונות"),
    "Add photo": ("Foto hinzufügen", "הוספת תמונה"),
    "take pictures": ("Bilder aufzunehmen", "לצלם תמונות"),
    "Rounds": ("Rundgang", "סבב"),
    "Move": ("Verschieben", "הזזה"),
    "Orchard": ("Obstgarten", "בוסתן"),
    "Mill": ("Mühle", "טחנה"),
    "Lime avenue": ("Lindenallee", "שדרת הטיליות"),
    "Heath": ("Heide", "ערבה"),
    "Old quarry": ("Alter Steinbruch", "מחצבה ישנה"),
    "Hive scale": ("Stockwaage", "מאזני כוורת"),
    "Reading": ("Messung", "מדידה"),
    "The scale is read all the time": ("Die Waage wird laufend abgelesen", "המאזניים נקראים כל הזמן"),
    "Stop reading": ("Messung beenden", "הפסקת המדידה"),
    "Records": ("Ertrag", "רישומים"),
    "Loading": ("Wird geladen", "בטעינה"),
    "You are offline": ("Keine Verbindung", "אין חיבור"),
    "Records are kept on the server.": ("Der Ertrag liegt auf dem Server.", "הרישומים שמורים בשרת."),
    "Try again": ("Erneut versuchen", "ניסיון חוזר"),
    "Later": ("Später", "אחר כך"),
}
_LANGUAGES = ("de", "he")
RIGHT_TO_LEFT = frozenset({"he", "ar", "fa"})


_DIGITS = str.maketrans("0123456789", "٠١٢٣٤٥٦٧٨٩")


def in_own_digits(words: str) -> str:
    """With Arabic's digits."""
    return words.translate(_DIGITS)


def language(locale: str) -> str:
    """The language of a BCP 47 tag."""
    return locale.split("-")[0].lower()


def say(words: str, locale: str) -> str:
    """The words in the locale's language; as they are where it has none."""
    code = language(locale)
    return _PAIRS[words][_LANGUAGES.index(code)] if code in _LANGUAGES and words in _PAIRS else words


def days_ago(days: int, locale: str) -> str:
    return {"de": f"vor {days} Tagen", "he": f"לפני {days} ימים"}.get(language(locale), f"{days} days ago")
