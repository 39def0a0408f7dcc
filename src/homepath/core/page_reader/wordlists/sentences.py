"""Words that mean one thing in a form and another in a sentence; phrases are separated by `|`."""

from __future__ import annotations

LOOSE_FIELDS = """
record | records | to | ip | registro | registros | registo | enregistrement | post | rekord | záznam | tietue | entry | eintrag | text | data
use | domain | result | is | from | alias | source | quelle | zapis | запись | запис | soort | clase | kind | art | ad | alan | date | datos | cel
obsah | servidor | server | palvelin | vert | druh | vrsta | вид | label | prefix | lifetime | address | ip address | ipv4 address | ipv6 address
ip-adresse | ip-adress | adresse | adress | adres | adresa | adresă | indirizzo | endereço | dirección | osoite | ip-osoite | subdomain | subdomäne
subdominio | domain name | nombre de dominio | nom de domaine | sous-domaine | testo | texte | texto | tekst | teksti | dns host | mail server
entries | indirizzo ip | dirección ip | endereço ip | ip adresi | レコード | 이름 | 地址 | entrada | ipv4 | ipv6 | txt | domínio | домен
hostname (host) | type post | post type | tip | ime | メール
"""
"""Names of fields that are common words in sentences too."""

APEX_WORDS = """
apex | root | stammdomain | hauptdomain | apex-domain | wurzeldomain | rootdomein | hoofddomein | rotdomän | rotdomänen | roddomæne | rotdomene
rotdomenet | roddomænet | hoveddomæne | hoveddomenet | rotdomänen | juuriverkkotunnus | juuriverkkotunnukselle | juuridomain | juuridomainille | päädomain | gyökérdomain | fődomain | root-domain | hauptdomäne | huvuddomänen | hoveddomænet
"""
"""Single words that mean the domain itself also inside a sentence."""

LABELS = (
    "shop|blog|mail|store|app|ftp|m|mobile|api|cdn|dev|test|staging|news|help|support|docs|portal|forum|wiki|img|static"
    "|autodiscover|webmail|smtp|imap|pop|admin|go|get|links?|members|events|learn|book|booking|home|site|web|pay|info"
    "|email|link|track|click|[a-z]+[0-9][a-z0-9]*|(?!e-)[a-z0-9]+-[a-z0-9-]+"
)
"""Labels that people use, as a pattern; other words behind `for` are hardly names."""

STOP_WORDS = """
the | your | a | an | it | this | that | our | each | all | host | name | value | type | example | domain | record | root | field | column | to
and | with | is | for | as | of | in | on | should | must | box | which | from | server | servers | dns | und | mit | der | die | das | für | et
avec | y | con | e | com | och | med | og | ja | na | i
"""
"""Words that are never the name that the word for a host announces."""

ONE_OF_THEM = """
it | them | second | third | latter | former | both | ihn | beide | zweite | zweiten | deuxième | seconde | segundo | secondo | entrambi | ambos
tweede
"""
"""Words for what was named in the sentence before."""

COUNTING = """
first | second | third | fourth | fifth | next | another | one | two | three | additional | also | erste | erster | ersten | zweite | zweiter
zweiten | dritte | dritter | dritten | weiterer | weitere | premier | premiere | deuxieme | second | troisieme | autre | primer | primero
segundo | tercer | tercero | otro | primo | secondo | terzo | altro | primeiro | segundo | terceiro | outro | eerste | tweede | derde | forsta
andra | tredje | forste | andet | annen | ensimmainen | toinen | kolmas | pierwszy | drugi | trzeci | prvni | druhy | treti | elso | masodik
primul | doilea | первая | вторая | третья | первый | второй | третий | record | entry | eintrag | step | schritt | etape | paso | passo
"""
"""Words that only count the parts of a page."""

JOINTS = "the | a | an | ein | eine | einen | einem | der | den | dem | un | une | una | uno | el | la | le | los | il | lo | o | os | um | uma | een | en | et | ett | bir | एक | μια | μία | o | and | und | et | y | e | och | og | ja | or | oder | ou"
"""Words for `the`, `a` and `and`: a line that ends with one goes on in the next, and none is a name."""

CHANGES = """
changes. | änderungen. | changements. | modifications. | cambios. | modifiche. | alterações. | wijzigingen. | aanpassingen. | ändringar.
ændringer. | endringer. | muutokset. | zmiany. | změny. | zmeny. | változtatások | modificări | modificările | изменения. | зміни. | промени.
αλλαγές. | değişiklikleri | التغييرات | השינויים
"""
"""The noun: `make the following changes`."""

PLACES = "shop|store|blog|app|api|portal|forum|wiki|docs|cdn|dev|staging|webmail"
"""Labels that a heading is about, and nothing else: `For shop:`; `For support:` is none."""

HAVING = """
what | you | we | i | have | see | are | there | setup | settings | configuration | state | situation | zone | values | live | your
was | sie | wir | ihr | haben | sehen | stand | einstellungen | konfiguration | ce | que | vous | nous | avez | voyons | configuration
réglages | lo | tiene | tienes | vemos | configuración | quello | che | hai | vediamo | configurazione | o | você | tem | vemos
configuração | wat | u | heeft | je | hebt | zien | instellingen | situatie | situazione | situación | situação | lage | masz | stan | stav | máte | har | ser
"""
"""Words of a heading over what is there now: `What you have now`."""

FOR_EXAMPLE = """
for example | for instance | as an example | e.g. | such as | something like | zum beispiel | z. b. | z.b. | beispielsweise | par exemple | por ejemplo
ad esempio | por exemplo | bijvoorbeeld | till exempel | t.ex. | for eksempel | f.eks. | esimerkiksi | na przykład | například | napríklad
például | de exemplu | например | наприклад | για παράδειγμα | örneğin | mesela | على سبيل المثال | לדוגמה | למשל | 例えば | たとえば | 例如 | 比如
예를 들어 | उदाहरण के लिए | misalnya | contohnya | ví dụ | chẳng hạn | ตัวอย่างเช่น
"""
"""What makes a sentence one that speaks of records in passing."""

EXAMPLE = """
example | beispiel | exemple | ejemplo | esempio | exemplo | voorbeeld | exempel | eksempel | esimerkki | przykład | příklad | príklad | példa
exemplu | пример | приклад | παράδειγμα | örnek | مثال | דוגמה | 例 | 예시 | 예 | उदाहरण | contoh | ví dụ | ตัวอย่าง
"""
"""The label before an example."""

THEM = """
them | they | these | those | diese | ceux-ci | estos | estas | queste | questi | estes | deze | dessa | disse | nämä | tyto | ezeket
azokat | acestea | эти | αυτά | bunları | onları | אותם | 它们 | 它們 | 这些 | 這些 | これら | それら | इन्हें | chúng
"""
"""Words for records that were named just before, or come just now."""

PRIMARY = """
primary domain | primary address | main domain | main address | default domain | primary | canonical domain | your site's address | site address
hauptdomain | primäre domain | hauptadresse | domaine principal | adresse principale | dominio principal | dirección principal
dominio primario | indirizzo principale | domínio principal | endereço principal | hoofddomein | primair domein | huvuddomän | primærdomæne
hoveddomæne | hoveddomene | ensisijainen verkkotunnus | domena główna | główna domena | hlavní doména | primární doména | elsődleges domain
domeniu principal | основной домен | главный домен | основний домен | основен домейн | κύριος τομέας | birincil alan adı | النطاق الأساسي
דומיין ראשי | メインドメイン | プライマリドメイン | 主域名 | 主要域名 | 기본 도메인 | प्राथमिक डोमेन | domain utama | tên miền chính | โดเมนหลัก
"""
"""What a page calls the address where all others end."""

REDIRECTS = """
redirect | forwards to. | forwarded to. | leads to. | weitergeleitet | leitet | umgeleitet | redirig | redirigé | reindirizz | redireciona | doorgestuurd
omdirigera | viderestill | videresend | omdirigeres | ohjat | ohjaa | przekier | przesměr | přesměr | presmer | átirány | redirecțion | перенаправ
пренасоч | ανακατευθ | yönlendir | يعيد التوجيه | מפנה | מופנה | リダイレクト | 転送 | 重定向 | 跳转 | 리디렉션 | 리다이렉트 | dialihkan | chuyển hướng
"""
"""Stems: one address of the site redirects to another."""

DONE_BY_ME = """
i set | i added | i put | i entered | i created | i used | i tried | i have added | i have set | i've added | i've set | we added | we set | i pointed | ich habe | j'ai | he añadido | he puesto | he creado
hemos añadido | ho aggiunto | ho inserito | ho messo | ho creato | adicionei | coloquei | criei | inseri | ik heb | jag har | jag lade | jeg har | jeg la | olen lisännyt | lisäsin | dodałem | dodałam | ustawiłem | ustawiłam
přidal jsem | přidala jsem | nastavil jsem | hozzáadtam | beállítottam | am adăugat | am pus | я добавил | я добавила | я поставил | я поставила | я додав | я додала | πρόσθεσα | έβαλα | ekledim | girdim | أضفت | הוספתי
"""
"""How people tell what they did: what they name is there now."""

DID_NOT_WORK = """
did not work | didn't work | does not work | doesn't work | not working | funktioniert nicht | nicht funktioniert | klappt nicht | ne fonctionne pas | ne marche pas | no funciona | no funcionó | non funziona | não funciona | não funcionou
werkt niet | fungerar inte | virker ikke | fungerer ikke | ei toimi | nie działa | nefunguje | nem működik | nu funcționează | не работает | не работи | не працює | δεν λειτουργεί | çalışmıyor | لا يعمل | לא עובד | 動きません | 不起作用 | 작동하지
"""

ALREADY = """
already | exist | exists | one | schon | bereits | déjà | existe | existent | ya | già | esiste | já | reeds | al | bestaat | redan | finns | allerede | findes | finnes | jo | już | istnieje | již | už | existuje
már | létezik | deja | există | уже | существует | вже | існує | вече | съществува | ήδη | υπάρχει | zaten | varsa | بالفعل | כבר
"""
"""Words of a condition that is about a record that may be there."""

ONLY = """
only. | just. | nur. | lediglich | ausschließlich | seulement | uniquement | seul. | solo. | sólo. | solamente | únicamente | soltanto | unicamente | apenas. | somente | só. | alleen. | enkel. | uitsluitend
endast | bara. | enbart | kun. | bare. | vain. | ainoastaan | tylko. | wyłącznie | pouze. | jen. | iba. | len. | csak. | kizárólag | doar. | numai. | samo. | только | лишь | лише | тільки | единствено | μόνο | yalnızca | sadece
فقط | רק. | のみ | だけ | 仅 | 只 | 僅 | 만. | 경우에만 | केवल | सिर्फ | hanya. | saja. | chỉ. | เฉพาะ | เท่านั้น
"""

MAIL = """
mail | mails | mailbox | e-mail | email | emails | postfach | postfächer | courriel | messagerie | correo | buzón | buzones | posta. | e-posta | caselle | casella | caixa de correio | e-post | sähköposti | poczt | pošt | e-pošt | levelez | postafiók | poșt | почт | пошт | поща | αλληλογραφ | ταχυδρομ
بريد | דוא | メール | 邮 | 郵 | 메일 | ईमेल | मेल | emel | surel | thư | อีเมล
"""
