"""Words of sentences: what points back, what tells where a name leads now, what stands between a field and its value."""

from __future__ import annotations

DEFINITE = """
your | the | our | ihr | ihren | ihrem | dein | deinen | deinem | der | den | dem | unser | votre | ton | notre | le | la | l | su | tu | el | nuestro | suo | tuo | il | lo | vostro
seu | teu | o | nosso | het | de | uw | je | jouw | jullie | ons | din | dit | ditt | det | er | twój | twojego | wasz | váš | tvůj | vašeho | váš | tvoj | ваш | твой | наш
вашу | твою | ваша | твоя | вашия | твоя | το | την | η | ο | bu
"""
"""Words before a type by which its record is the one and only: `your A record`."""

FOR = """
for | für | pour | para | per | voor | för | dla | pro | pre | pentru | для | за | για | için | untuk | cho | of | under | on | at
"""
"""Words that a name follows: with one of them, a record has a name."""

SAME = """
the same | same | likewise | ditto | dasselbe | das gleiche | dieselbe | ebenso | genauso | la même | le même | pareil | idem | lo mismo | igual | lo stesso | uguale | stessa cosa
o mesmo | a mesma | hetzelfde | dezelfde | samma | samme | det samme | sama | samoin | to samo | tak samo | totéž | stejně | to isté | rovnako | ugyanez | ugyanaz | la fel | то же | так же
те саме | так само | същото | το ίδιο | aynısı | aynı | نفس | כנ"ל | אותו | 同様 | 同じ | 同样 | 同樣 | 동일 | 마찬가지 | वही | yang sama | tương tự | เช่นเดียวกัน
"""
"""The record just named, for another name: `the same for www`."""

TO_BE = """
be | be set to | point to | be pointing to | sein | être | pointer vers | ser | estar | apuntar a | essere | puntare a | apontar para | zijn | vara | være | olla | być | być ustawiony na | být | byť | lenni | fi
быть | бути | бъде | είναι | أن يكون | להיות | menjadi | là
"""
"""Verbs between a `should not` and the value that it denies."""

BECOMES = """
becomes | will become | will be | wird | wird zu | devient | pasa a ser | se convierte en | diventa | torna-se | passa a ser | vira | wordt | blir | bliver | muuttuu
staje się | zmienia się na | se mění na | se zmení na | bude | lesz | devine | становится | меняется на | станет | стане | γίνεται | olur | olacak | になります | に変わります | 变为 | 變為
menjadi | trở thành | กลายเป็น | now | ahora | jetzt | maintenant | adesso | agora | nu | nyt | teraz | nyní | teď | most | acum | сейчас | теперь | тепер | зараз | сега | τώρα
şimdi | الآن | עכשיו | 今は | 现在 | 現在 | 지금 | अब | sekarang | bây giờ | ตอนนี้ | neu | nuevo | nouveau | nuovo | novo | nieuw | nytt | ny | nowy | nový | новый | новий | нов
"""
"""Right before a value whose predecessor was named as the one before: `was 198.51.100.7, now 192.0.2.10`."""

ONE_OF_THEM = """
it | them | second | third | latter | former | both | ihn | beide | zweite | zweiten | deuxième | seconde | segundo | secondo | entrambi | ambos
tweede
"""
"""Words for what was named in the sentence before."""

COUNTING = """
first | second | third | fourth | fifth | next | another | other | one | two | three | additional | also | erste | erster | ersten | zweite | zweiter
zweiten | dritte | dritter | dritten | weiterer | weitere | premier | premiere | deuxieme | second | troisieme | autre | primer | primero
segundo | tercer | tercero | otro | primo | secondo | terzo | altro | primeiro | segundo | terceiro | outro | eerste | tweede | derde | forsta
andra | tredje | forste | andet | annen | ensimmainen | toinen | kolmas | pierwszy | drugi | trzeci | prvni | druhy | treti | elso | masodik
primul | doilea | первая | вторая | третья | первый | второй | третий | record | entry | eintrag | step | schritt | etape | paso | passo
"""
"""Words that only count the parts of a page."""

JOINTS = "the | a | an | die | das | ein | eine | einen | einem | der | den | dem | un | une | una | uno | el | la | le | los | il | lo | o | os | um | uma | een | en | et | ett | bir | एक | μια | μία | o | and | und | et | y | e | och | og | ja | or | oder | ou"
"""Words for `the`, `a` and `and`: a line that ends with one goes on in the next, and none is a name."""

AS = "as | als | comme | como | come | som | jako | как | olarak"
"""`www as the name`"""

PARTICLES = "ein | in | an | aus | op | en | y | e | et | and | und | i | og | och | a | и"
"""What may follow a word that is put into a field: `geben Sie als Namen www ein`."""

BESIDE_FIELD = f"""{AS} | field | box | list | feld | fältet | feltet | pole | polu | поле | полето | the | a | le | el | il | al | to | sie | be | is | ist | est
es | è | é | är | er | jest | je | in | into | under | at | on | for | im | i | bei | bij | på | en | no | na | w | v | do | dans | к | в | de
"""
"""Words between a field and what is put into it."""

HAVING = """
what | you | we | i | have | see | are | there | setup | settings | configuration | state | situation | zone | values | live | your
was | sie | wir | ihr | haben | sehen | stand | einstellungen | konfiguration | ce | que | vous | nous | avez | voyons | configuration
réglages | lo | tiene | tienes | vemos | configuración | quello | che | hai | vediamo | configurazione | o | você | tem | vemos
configuração | wat | u | heeft | je | hebt | zien | instellingen | situatie | situazione | situación | situação | lage | masz | stan | stav | máte | har | ser
"""
"""Words of a heading over what is there now: `What you have now`."""

YOURS = """
your | yours | ihre | ihr | deine | dein | votre | vos | tes | ton | tus | tu | sus | tuyos | tuoi | tue | suoi | tuo | seus | suas | seu | uw | jouw
dina | ditt | din | dine | deres | twoje | twój | twoja | państwa | vaše | váš | tvoje | ваши | ваш | ваші | вашите | sizin | שלך | الخاصة بك | あなたの
您的 | 你的 | 귀하의 | आपके | आपका | anda | của bạn | ของคุณ
"""
"""Words for `your`."""

THEM = """
them | they | these | those | diese | ceux-ci | estos | estas | queste | questi | estes | deze | dessa | disse | nämä | tyto | ezeket
azokat | acestea | эти | αυτά | bunları | onları | אותם | 它们 | 它們 | 这些 | 這些 | これら | それら | इन्हें | chúng
"""
"""Words for records that were named just before, or come just now."""

THIS = """
this | it | this one | dies | diese | diesen | diesem | ihn | sie | es | cela | ceci | celle-ci | celui-ci | la | le | esto | esta | este | lo | questo | questa | isto | esse
dit | deze | het | detta | denna | den | dette | denne | tämä | sen | ten | tę | go | jej | tento | tuto | ji | ezt | azt | acesta | aceasta | это | этот | его | це | його
това | αυτό | αυτή | bunu | onu | これ | それ | 它 | 此 | 이를 | 이것 | इसे | इस | ini | này | นี้
"""
"""Words for what the sentence before has named."""

DONE_BY_ME = """
i set | i added | i put | i entered | i created | i used | i tried | i have added | i have set | i've added | i've set | we added | we set | i pointed | ich habe | j'ai | he añadido | he puesto | he creado
hemos añadido | ho aggiunto | ho inserito | ho messo | ho creato | adicionei | coloquei | criei | inseri | ik heb | jag har | jag lade | jeg har | jeg la | olen lisännyt | lisäsin | dodałem | dodałam | ustawiłem | ustawiłam
přidal jsem | přidala jsem | nastavil jsem | hozzáadtam | beállítottam | am adăugat | am pus | я добавил | я добавила | я поставил | я поставила | я додав | я додала | πρόσθεσα | έβαλα | ekledim | girdim | أضفت | הוספתי
"""
"""How people tell what they did: what they name is there now."""

EXCEPT = """
other than | except | except for | but not | apart from | any others than | außer | ausser | bis auf | anderen als | autre que | autres que | sauf | excepté | salvo | excepto | menos | distinto de | distintos de | que no sea
diverso da | diversi da | tranne | eccetto | exceto | diferente de | que não seja | behalve | anders dan | andere dan | utom | förutom | andra än | undtagen | bortset fra | andre end | unntatt | bortsett fra | andre enn
lukuun ottamatta | muut kuin | oprócz | poza | inne niż | inny niż | kromě | jiné než | jiný než | kivéve | în afară de | cu excepția | altele decât | кроме | за исключением | отличные от | крім | окрім | εκτός
dışında | hariç | ما عدا | باستثناء | غير | מלבד | חוץ מ | למעט | 以外 | 除了 | 之外 | 제외 | 이외 | के अलावा | को छोड़कर | selain | kecuali | ngoại trừ | ngoài | ยกเว้น | นอกจาก
"""
"""Words for what is left out of the rest."""

MINE = """
my | i have a | i have an | i see a | i see an | i've got a | mein | meine | meinem | ich habe ein | ich habe einen | bei mir | mon | ma | mes | j'ai un | mi | mis | tengo un | mio | mia | miei | ho un
meu | minha | tenho um | mijn | ik heb een | min | mitt | mina | mine | jag har en | jeg har en | minun | minulla | mój | moja | moje | mam | můj | mám | az én | nekem | al meu | am un | мой | моя | моё
у меня | мій | у мене | benim | bende | عندي | لدي | שלי | 我的 | 私の | 내 | 제 | मेरा | saya | milik saya | của tôi | ของฉัน
"""
"""How someone begins to tell what they have."""

POINTS_NOW = """
points | is pointing | steht | stands | resolves | leads | goes | returns | zeigt | verweist | führt | pointe | renvoie | mène | apunta | dirige | lleva | resuelve | punta | porta | risolve | rimanda | aponta | leva
wijst | verwijst | leidt | pekar | leder | peger | peker | osoittaa | ohjaa | wskazuje | kieruje | prowadzi | ukazuje | směřuje | vede | mutat | vezet | indică | trimite | duce | указывает | ведёт | ведет | вказує | веде | сочи
δείχνει | οδηγεί | gösteriyor | yönleniyor | يشير | מצביע | 指向 | 解析到 | を指して | 向いて | 가리키 | mengarah | menunjuk | trỏ | ชี้
"""
"""Verbs that tell where a name leads."""

DID_NOT_WORK = """
did not work | didn't work | does not work | doesn't work | not working | funktioniert nicht | nicht funktioniert | klappt nicht | ne fonctionne pas | ne marche pas | no funciona | no funcionó | non funziona | não funciona | não funcionou
werkt niet | fungerar inte | virker ikke | fungerer ikke | ei toimi | nie działa | nefunguje | nem működik | nu funcționează | не работает | не работи | не працює | δεν λειτουργεί | çalışmıyor | لا يعمل | לא עובד | 動きません | 不起作用 | 작동하지
"""

WHOSE = "your | our | my | their | ihr | dein | mein | unser | votre | ton | notre | mon | su | tu | mi | suo | tuo | mio | seu | teu | meu | uw | je | jouw | mijn | din | ditt"
"""`your host`: the DNS host, and no field."""
