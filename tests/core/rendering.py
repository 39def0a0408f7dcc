"""Records written down as pages in many languages do it, to be read back: words, layouts, and what surrounds them."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from html import escape


@dataclass(frozen=True)
class Wanted:
    type: str
    host: str
    value: str
    ttl: int | None = 3600


@dataclass(frozen=True)
class Tongue:
    """The words of one language: type, host, value, copy, add lead-in, delete lead-in, current column, required column,
    an hour, and a sentence with {type}, {host} and {value}."""

    type: str
    host: str
    value: str
    copy: str
    add: str
    delete: str
    current: str
    required: str
    hour: str
    sentence: str


TONGUES = {
    "en": Tongue("Type", "Host", "Points to", "Copy", "Please add these records:", "Please delete these records:",
                 "Current value", "Required value", "1 hour", "Create a {type} record for {host} that points to {value}."),
    "de": Tongue("Typ", "Name", "Wert", "Kopieren", "Bitte legen Sie diese Einträge an:", "Bitte löschen Sie diese Einträge:",
                 "Aktueller Wert", "Neuer Wert", "1 Std.", "Legen Sie einen {type}-Eintrag für {host} an, der auf {value} zeigt."),
    "fr": Tongue("Type", "Nom", "Valeur", "Copier", "Ajoutez ces enregistrements :", "Supprimez ces enregistrements :",
                 "Valeur actuelle", "Valeur requise", "1 heure", "Créez un enregistrement {type} pour {host} pointant vers {value}."),
    "es": Tongue("Tipo", "Nombre", "Valor", "Copiar", "Añada estos registros:", "Elimine estos registros:",
                 "Valor actual", "Valor nuevo", "1 hora", "Cree un registro {type} para {host} que apunte a {value}."),
    "pt": Tongue("Tipo", "Nome", "Valor", "Copiar", "Adicione estes registros:", "Exclua estes registros:",
                 "Valor atual", "Valor necessário", "1 hora", "Crie um registro {type} para {host} apontando para {value}."),
    "it": Tongue("Tipo", "Nome", "Valore", "Copia", "Aggiungi questi record:", "Elimina questi record:",
                 "Valore attuale", "Valore richiesto", "1 ora", "Crea un record {type} per {host} che punta a {value}."),
    "nl": Tongue("Type", "Naam", "Waarde", "Kopiëren", "Voeg deze records toe:", "Verwijder deze records:",
                 "Huidige waarde", "Nieuwe waarde", "1 uur", "Maak een {type}-record aan voor {host} dat verwijst naar {value}."),
    "sv": Tongue("Typ", "Namn", "Värde", "Kopiera", "Lägg till dessa poster:", "Ta bort dessa poster:",
                 "Nuvarande värde", "Nytt värde", "1 timme", "Skapa en {type}-post för {host} som pekar på {value}."),
    "da": Tongue("Type", "Navn", "Værdi", "Kopiér", "Tilføj disse poster:", "Slet disse poster:",
                 "Nuværende værdi", "Ny værdi", "1 time", "Opret en {type}-post for {host}, der peger på {value}."),
    "nb": Tongue("Type", "Navn", "Verdi", "Kopier", "Legg til disse oppføringene:", "Slett disse oppføringene:",
                 "Nåværende verdi", "Ny verdi", "1 time", "Opprett en {type}-oppføring for {host} som peker på {value}."),
    "fi": Tongue("Tyyppi", "Nimi", "Arvo", "Kopioi", "Lisää nämä tietueet:", "Poista nämä tietueet:",
                 "Nykyinen arvo", "Uusi arvo", "1 tunti", "Luo {type}-tietue nimelle {host}, joka osoittaa kohteeseen {value}."),
    "pl": Tongue("Typ", "Nazwa", "Wartość", "Kopiuj", "Dodaj te rekordy:", "Usuń te rekordy:",
                 "Obecna wartość", "Wymagana wartość", "1 godzina", "Utwórz rekord {type} dla {host} wskazujący na {value}."),
    "cs": Tongue("Typ", "Název", "Hodnota", "Kopírovat", "Přidejte tyto záznamy:", "Smažte tyto záznamy:",
                 "Současná hodnota", "Nová hodnota", "1 hodina", "Vytvořte záznam {type} pro {host}, který směřuje na {value}."),
    "hu": Tongue("Típus", "Név", "Érték", "Másolás", "Adja hozzá ezeket a rekordokat:", "Törölje ezeket a rekordokat:",
                 "Jelenlegi érték", "Új érték", "1 óra", "Hozzon létre egy {type} rekordot a {host} névhez, amely ide mutat: {value}"),
    "ro": Tongue("Tip", "Nume", "Valoare", "Copiază", "Adăugați aceste înregistrări:", "Ștergeți aceste înregistrări:",
                 "Valoare curentă", "Valoare nouă", "1 oră", "Creați o înregistrare {type} pentru {host} care indică spre {value}."),
    "ru": Tongue("Тип", "Имя", "Значение", "Копировать", "Добавьте эти записи:", "Удалите эти записи:",
                 "Текущее значение", "Новое значение", "1 час", "Создайте запись {type} для {host}, указывающую на {value}."),
    "uk": Tongue("Тип", "Ім'я", "Значення", "Копіювати", "Додайте ці записи:", "Видаліть ці записи:",
                 "Поточне значення", "Нове значення", "1 година", "Створіть запис {type} для {host}, який вказує на {value}."),
    "el": Tongue("Τύπος", "Όνομα", "Τιμή", "Αντιγραφή", "Προσθέστε αυτές τις εγγραφές:", "Διαγράψτε αυτές τις εγγραφές:",
                 "Τρέχουσα τιμή", "Νέα τιμή", "1 ώρα", "Δημιουργήστε μια εγγραφή {type} για το {host} που δείχνει στο {value}."),
    "tr": Tongue("Tür", "Ad", "Değer", "Kopyala", "Bu kayıtları ekleyin:", "Bu kayıtları silin:",
                 "Mevcut değer", "Yeni değer", "1 saat", "{host} için {value} adresini gösteren bir {type} kaydı oluşturun."),
    "ar": Tongue("النوع", "الاسم", "القيمة", "نسخ", "أضف هذه السجلات:", "احذف هذه السجلات:",
                 "القيمة الحالية", "القيمة الجديدة", "1 ساعة", "أنشئ سجل {type} للاسم {host} يشير إلى {value}"),
    "he": Tongue("סוג", "שם", "ערך", "העתק", "הוסיפו את הרשומות הבאות:", "מחקו את הרשומות הבאות:",
                 "ערך נוכחי", "ערך חדש", "1 שעה", "צרו רשומת {type} עבור {host} שמצביעה אל {value}"),
    "ja": Tongue("タイプ", "ホスト名", "値", "コピー", "次のレコードを追加してください：", "次のレコードを削除してください：",
                 "現在の値", "新しい値", "1時間", "{host}の{type}レコードを {value} に設定してください。"),
    "zh": Tongue("类型", "主机记录", "记录值", "复制", "请添加以下记录：", "请删除以下记录：",
                 "当前值", "新值", "1小时", "请为 {host} 添加一条 {type} 记录，指向 {value}。"),
    "ko": Tongue("유형", "호스트", "값", "복사", "다음 레코드를 추가하세요:", "다음 레코드를 삭제하세요:",
                 "현재 값", "새로운 값", "1시간", "{host}에 대해 {value}을(를) 가리키는 {type} 레코드를 추가하세요."),
    "hi": Tongue("प्रकार", "होस्ट", "मान", "कॉपी करें", "ये रिकॉर्ड जोड़ें:", "ये रिकॉर्ड हटाएं:",
                 "वर्तमान मान", "नया मान", "1 घंटा", "{host} के लिए {value} की ओर इंगित करने वाला {type} रिकॉर्ड जोड़ें।"),
    "id": Tongue("Jenis", "Nama", "Nilai", "Salin", "Tambahkan record berikut:", "Hapus record berikut:",
                 "Nilai saat ini", "Nilai baru", "1 jam", "Buat record {type} untuk {host} yang mengarah ke {value}."),
    "vi": Tongue("Loại", "Tên", "Giá trị", "Sao chép", "Thêm các bản ghi sau đây:", "Xóa các bản ghi sau đây:",
                 "Giá trị hiện tại", "Giá trị mới", "1 giờ", "Tạo bản ghi {type} cho {host} trỏ tới {value}."),
}  # fmt: skip

Layout = Callable[[Sequence[Wanted], Tongue], str]


def tabs(records: Sequence[Wanted], t: Tongue) -> str:
    return "\n".join(
        [f"{t.type}\t{t.host}\t{t.value}\tTTL", *(f"{r.type}\t{r.host}\t{r.value}\t{t.hour}" for r in records)]
    )


def columns(records: Sequence[Wanted], t: Tongue) -> str:
    rows = [(t.host, t.type, t.value), *((r.host, r.type, r.value) for r in records)]
    wide = [max(len(row[at]) for row in rows) for at in range(3)]
    return "\n".join(
        "   ".join(cell.ljust(width) for cell, width in zip(row, wide, strict=True)).rstrip() for row in rows
    )


def pipes(records: Sequence[Wanted], t: Tongue) -> str:
    lines = [f"| {t.type} | {t.host} | {t.value} |", "|---|---|---|"]
    return "\n".join([*lines, *(f"| {r.type} | {r.host} | {r.value} |" for r in records)])


def cards(records: Sequence[Wanted], t: Tongue) -> str:
    return "\n\n".join(f"{t.type}: {r.type}\n{t.host}: {r.host}\n{t.value}: {r.value}\nTTL: {t.hour}" for r in records)


def below(records: Sequence[Wanted], t: Tongue) -> str:
    return "\n".join(
        f"{t.type}\n{r.type}\n{t.host}\n{r.host}\n{t.copy}\n{t.value}\n{r.value}\n{t.copy}" for r in records
    )


def cells(records: Sequence[Wanted], t: Tongue) -> str:
    lines = [t.type, t.host, t.value]
    for r in records:
        lines += [r.type, r.host, r.value]
    return "\n".join(lines)


def one_line(records: Sequence[Wanted], t: Tongue) -> str:
    return "\n".join(f"- {t.type}: {r.type}, {t.host}: {r.host}, {t.value}: {r.value}" for r in records)


def arrows(records: Sequence[Wanted], t: Tongue) -> str:
    return "\n".join(f"• {r.type}   {r.host} → {r.value}" for r in records)


def prose(records: Sequence[Wanted], t: Tongue) -> str:
    return "\n".join(t.sentence.format(type=r.type, host=r.host, value=r.value) for r in records)


def separated(records: Sequence[Wanted], t: Tongue) -> str:
    return "\n".join([f"{t.type};{t.host};{t.value}", *(f"{r.type};{r.host};{r.value}" for r in records)])


def as_json(records: Sequence[Wanted], t: Tongue) -> str:
    return json.dumps(
        {"records": [{"type": r.type, "name": r.host, "value": r.value, "ttl": r.ttl} for r in records]}, indent=1
    )


def html(records: Sequence[Wanted], t: Tongue) -> str:
    head = f"<tr><th>{t.type}</th><th>{t.host}</th><th>{t.value}</th><th></th></tr>"
    rows = "".join(
        f"<tr><td>{r.type}</td><td>{r.host}</td><td>{escape(r.value)}</td><td><button>{t.copy}</button></td></tr>\n"
        for r in records
    )
    return f"<table>{head}\n{rows}</table>"


LAYOUTS: dict[str, Layout] = {
    each.__name__: each
    for each in (tabs, columns, pipes, cards, below, cells, one_line, arrows, prose, separated, as_json, html)
}


def quoted_mail(text: str) -> str:
    return "Hello,\n\n" + "\n".join(f"> {line}" for line in text.split("\n")) + "\n\nBye"


def chat(text: str) -> str:
    return "\n".join(f"[10:{20 + at % 40}] Mara: {line}" if line else "" for at, line in enumerate(text.split("\n")))
