"""The few words of a card itself, in the languages in which cards are made."""

from amberkey.core.documents.field import Language

WORDS: dict[str, dict[Language, str]] = {
    "worth": {"en": "Every day", "de": "Jeden Tag", "fr": "Chaque jour", "sv": "Varje dag"},
    "week": {"en": "Week {number}", "de": "Woche {number}", "fr": "Semaine {number}", "sv": "Vecka {number}"},
    "was lately": {
        "en": "its key was {name} until lately",
        "de": "ihre Taste war bis vor kurzem: {name}",
        "fr": "sa touche était jusqu'ici : {name}",
        "sv": "tangenten var nyss: {name}",
    },
    "changed": {"en": "New since {day}", "de": "Neu seit {day}", "fr": "Nouveau depuis le {day}", "sv": "Nytt sedan {day}"},
    "hurry": {
        "en": "When something is stuck",
        "de": "Wenn etwas klemmt",
        "fr": "Quand ça coince",
        "sv": "När något krånglar",
    },
    "by task": {"en": "All of it", "de": "Alles", "fr": "Tout", "sv": "Allt"},
    "then": {"en": "then", "de": "dann", "fr": "puis", "sv": "sedan"},
    "or": {"en": "or", "de": "oder", "fr": "ou", "sv": "eller"},
    "not in": {"en": "not in {names}", "de": "nicht in {names}", "fr": "pas dans {names}", "sv": "inte i {names}"},
    "not at": {"en": "not at {names}", "de": "nicht bei {names}", "fr": "pas chez {names}", "sv": "inte hos {names}"},
    "elsewhere": {
        "en": "{keys} at {names}",
        "de": "{keys} bei {names}",
        "fr": "{keys} chez {names}",
        "sv": "{keys} hos {names}",
    },
    "from day": {"en": "from {day} on", "de": "ab {day}", "fr": "à partir du {day}", "sv": "från {day}"},
    "from day at": {
        "en": "from {day} on at {names}",
        "de": "ab {day} bei {names}",
        "fr": "à partir du {day} chez {names}",
        "sv": "från {day} hos {names}",
    },
    "does now": {
        "en": "{keys} does {name} now",
        "de": "{keys} macht jetzt: {name}",
        "fr": "{keys} fait maintenant : {name}",
        "sv": "{keys} gör nu: {name}",
    },
    "does nothing": {
        "en": "{keys} does nothing any more",
        "de": "{keys} macht nichts mehr",
        "fr": "{keys} ne fait plus rien",
        "sv": "{keys} gör inget längre",
    },
    "no key": {"en": "no key any more", "de": "keine Taste mehr", "fr": "plus de touche", "sv": "ingen tangent längre"},
    "yours": {"en": "Your card", "de": "Ihre Karte", "fr": "Votre carte", "sv": "Ditt kort"},
    "everybody": {"en": "For everybody", "de": "Für alle", "fr": "Pour tous", "sv": "För alla"},
    "find": {
        "en": "Press a key to find it on the card.",
        "de": "Eine Taste drücken, und sie wird auf der Karte gefunden.",
        "fr": "Appuyez sur une touche pour la trouver sur la carte.",
        "sv": "Tryck på en tangent för att hitta den på kortet.",
    },
    "test": {"en": "Test yourself", "de": "Sich prüfen", "fr": "Se tester", "sv": "Testa dig själv"},
    "which": {
        "en": "Which key: {name}?",
        "de": "Welche Taste: {name}?",
        "fr": "Quelle touche : {name} ?",
        "sv": "Vilken tangent: {name}?",
    },
    "right": {"en": "That's it.", "de": "Genau.", "fr": "C'est ça.", "sv": "Just det."},
    "not it": {
        "en": "Not that one. Press the one that is shown.",
        "de": "Nicht diese. Bitte die gezeigte drücken.",
        "fr": "Pas celle-là. Appuyez sur celle qui est montrée.",
        "sv": "Inte den. Tryck på den som visas.",
    },
    "again": {
        "en": "Last time here: {right} of {all} at once.",
        "de": "Zuletzt hier: {right} von {all} auf Anhieb.",
        "fr": "La dernière fois ici : {right} sur {all} du premier coup.",
        "sv": "Senast här: {right} av {all} direkt.",
    },
    "done": {
        "en": "{right} of {all} at once. Only this browser knows.",
        "de": "{right} von {all} auf Anhieb. Das weiß nur dieser Browser.",
        "fr": "{right} sur {all} du premier coup. Seul ce navigateur le sait.",
        "sv": "{right} av {all} direkt. Bara den här webbläsaren vet det.",
    },
    "next": {
        "en": "Next for you: {names}.",
        "de": "Als Nächstes für Sie: {names}.",
        "fr": "Les prochaines pour vous : {names}.",
        "sv": "Härnäst för dig: {names}.",
    },
    "all sit": {
        "en": "You know all of them.",
        "de": "Sie können alle.",
        "fr": "Vous les savez toutes.",
        "sv": "Du kan alla.",
    },
    "nobody": {
        "en": "That key isn't on this card.",
        "de": "Diese Taste steht nicht auf der Karte.",
        "fr": "Cette touche n'est pas sur la carte.",
        "sv": "Den tangenten finns inte på kortet.",
    },
    "browser": {
        "en": "Some keys the browser keeps for itself: it never lets this page see them.",
        "de": "Manche Tasten behält der Browser für sich: diese Seite sieht sie nie.",
        "fr": "Le navigateur garde certaines touches pour lui : cette page ne les voit jamais.",
        "sv": "Vissa tangenter behåller webbläsaren: sidan ser dem aldrig.",
    },
    "card": {"en": "Card {number}", "de": "Karte {number}", "fr": "Carte {number}", "sv": "Kort {number}"},
    "draft": {"en": "Draft", "de": "Entwurf", "fr": "Ébauche", "sv": "Utkast"},
    "keys": {"en": "keys", "de": "Tasten", "fr": "touches", "sv": "tangenter"},
    "others": {
        "en": "{many} other places",
        "de": "{many} anderen Orten",
        "fr": "{many} autres endroits",
        "sv": "{many} andra platser",
    },
}


def word(which: str, language: Language, **given: object) -> str:
    """One of them with its gaps filled. Raises KeyError for one that isn't there."""
    return WORDS[which][language].format(**given)
