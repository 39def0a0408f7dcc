"""What forms and tables call their fields. One line a language; phrases are separated by `|`."""

from __future__ import annotations

TYPE = """
type | record type | dns type | rr type | rrtype | rtype | kind | record | type of record | entry type | dns record type
typ | eintragstyp | record-typ | recordtyp | eintragsart | art | typ des eintrags | dns-typ
type d'enregistrement | type d’enregistrement | genre | enregistrement
tipo | tipo de registro | clase | registro | tipo di record | tipo record | tipo do registro | tipo de registo
recordtype | soort | soort record | typ av post | posttyp | post | posttype | oppføringstype | type post
tyyppi | tietuetyyppi | tietueen tyyppi | tietue
typ rekordu | rodzaj | rodzaj rekordu | rekord | typ zaznamu | typ záznamu | druh | záznam
típus | rekord típusa | rekordtípus | tip | tip înregistrare | tipul | tip de înregistrare | tip zapisa | vrsta | vrsta zapisa | vrsta rekorda
тип | тип записи | вид | тип запису | тип на записа | запись | запис
τύπος | τύπος εγγραφής | είδος
tür | kayıt türü | kayıt tipi | tip kaydı | kayıt | εγγραφή | bejegyzés | înregistrare | السجل | רשומה | 记录 | 記錄 | 레코드 | रिकॉर्ड | bản ghi | ระเบียน
النوع | نوع | نوع السجل | סוג | סוג רשומה | סוג הרשומה
タイプ | 種類 | 種別 | レコードタイプ | レコード種別 | レコードの種類 | レコード
类型 | 類型 | 记录类型 | 記錄類型 | 记录类别
유형 | 타입 | 레코드 유형 | 레코드 타입 | 종류
प्रकार | रिकॉर्ड प्रकार | रिकॉर्ड का प्रकार
jenis | tipe | jenis record | tipe record | jenis rekod
loại | loại bản ghi | kiểu | ประเภท | ชนิด | ประเภทเรคคอร์ด | ประเภทระเบียน
tüüp | kirje tüüp | kirje liik | ieraksta tips | ieraksta veids | tipas | įrašo tipas | tegund | gerð | tipus | tipus de registre | نوع رکورد | tip zapisa dns
"""

HOST = """
host | name | hostname | host name | owner name | record name | host record | subdomain | sub-domain | label | owner | dns name | domain name
name or host | host or name | name/host | host/name | host (name) | prefix | alias | source | record host | dns host | from | entry | record for | named
naziv | naziv hosta | naziv zapisa | ime hosta | poddomena | poddomen
rechnername | bezeichnung | eintrag | hostname (host) | subdomäne | präfix | quelle
nom | nom d'hôte | nom d’hôte | hôte | sous-domaine | nom de l'enregistrement | nom de domaine
nombre | nombre de host | nombre del host | anfitrión | subdominio | nombre del registro | nome | nome host | nome do host
nome do registro | nome del record | sottodominio | subdomínio | anfitrião | nome do registo | servidor | nombre de dominio
naam | hostnaam | subdomein | recordnaam | namn | värdnamn | värd | underdomän | navn | vært | værtsnavn | vertsnavn | vert
underdomæne | underdomene | nimi | isäntä | isäntänimi | aliverkkotunnus | alidomain | palvelin
nazwa | nazwa hosta | subdomena | poddomena | nazwa rekordu | název | jméno | hostitel | subdoména | název záznamu | názov | meno
név | állomásnév | gazdagép | aldomain | állomás | gazdagépnév | nume | nume gazdă | gazdă | subdomeniu | numele | ime | poddomena
имя | хост | имя хоста | поддомен | имя записи | узел | название | ім'я | імʼя | вузол | піддомен | назва | име | име на хост | домен
όνομα | όνομα κεντρικού υπολογιστή | κεντρικός υπολογιστής | υποτομέας | όνομα host
ad | isim | ana makine | ana bilgisayar | alt alan adı | sunucu adı | ana makine adı | alan | adı
الاسم | اسم | المضيف | اسم المضيف | النطاق الفرعي | مضيف | שם | מארח | שם מארח | תת-דומיין | תת דומיין
ホスト | ホスト名 | 名前 | サブドメイン | レコード名 | ラベル | 名称
主机 | 主机名 | 主机记录 | 名称 | 子域名 | 主機 | 主機名稱 | 名稱 | 子網域 | 记录名称 | 主機記錄 | 主机名称
호스트 | 이름 | 호스트 이름 | 호스트명 | 하위 도메인 | 서브도메인 | 레코드 이름
होस्ट | नाम | होस्ट नाम | होस्टनाम | उपडोमेन | nama | nama host | subdomain | tuan rumah | nama hos
tên | tên máy chủ | máy chủ | tên miền phụ | tên bản ghi | ชื่อ | โฮสต์ | ชื่อโฮสต์ | ซับโดเมน
kirje nimi | hosti nimi | nosaukums | ieraksta nosaukums | resursdators | pavadinimas | vardas | įrašo pavadinimas | heiti | nafn | hýsill | nom de host | nom d'amfitrió | amfitrió | ime gostitelja | gostitelj | نام | میزبان | نام میزبان | назив | име домаћина
"""

VALUE = """
value | points to | point to | data | content | contents | target | destination | address | ip address | ip | answer | record value
values | rdata | record data | text | directs to | goes to | resolves to | value/target | value / points to | target host | host value
points at | mail server | alias for | alias of | alias to | ipv4 address | ipv6 address | target name | canonical name | txt value
mail exchanger | server | record content | destination / target | to | leads to | result | ipv4 | ipv6 | value (points to)
wert | ziel | zeigt auf | inhalt | verweist auf | zieladresse | adresse | ip-adresse | zielhost | verweis | daten | eintragswert
valeur | pointe vers | cible | contenu | destination | adresse ip | données | pointant vers | dirige vers | texte
valor | apunta a | destino | contenido | dirección | dirección ip | datos | objetivo | texto | valore | punta a | destinazione
contenuto | indirizzo | indirizzo ip | dati | aponta para | conteúdo | endereço | endereço ip | dados | alvo | testo
waarde | verwijst naar | wijst naar | doel | inhoud | adres | ip-adres | bestemming | gegevens | tekst
värde | pekar på | pekar mot | mål | innehåll | adress | ip-adress | data | destination | text
værdi | peger på | peger til | indhold | adresse | verdi | peker på | peker til | innhold | mål | destinasjon
arvo | osoittaa | kohde | sisältö | osoite | ip-osoite | tiedot | data | teksti
wartość | wskazuje na | cel | zawartość | adres | adres ip | dane | treść | kieruje do | kieruje na
hodnota | ukazuje na | odkazuje na | směřuje na | cíl | obsah | adresa | ip adresa | data | cieľ | smeruje na | smerovanie
érték | mutat | ide mutat | cél | tartalom | cím | ip-cím | ip cím | adat | célpont | értéke
valoare | indică spre | indică către | țintă | destinație | conținut | adresă | adresa ip | date | vrednost | sadržaj | vrijednost
значение | указывает на | цель | содержимое | адрес | ip-адрес | данные | назначение | ведет на | ведёт на | ссылается на
значення | вказує на | ціль | вміст | адреса | ip-адреса | дані | стойност | сочи към | съдържание | цел
τιμή | δείχνει σε | δείχνει προς | στόχος | περιεχόμενο | διεύθυνση | διεύθυνση ip | δεδομένα | προορισμός
değer | şuraya yönlendirir | hedef | içerik | adres | ip adresi | veri | yönlendirilen adres | işaret ettiği | gösterdiği yer
القيمة | قيمة | يشير إلى | الهدف | المحتوى | العنوان | الوجهة | البيانات | عنوان ip
ערך | מצביע אל | מפנה אל | יעד | תוכן | כתובת | כתובת ip | נתונים | מצביע ל
値 | 参照先 | 内容 | ターゲット | 転送先 | データ | ポイント先 | アドレス | ipアドレス | 宛先 | 設定値 | 値/参照先 | 指定先
值 | 记录值 | 指向 | 目标 | 内容 | 数据 | 地址 | ip地址 | 記錄值 | 目標 | 內容 | 資料 | 位址 | 解析到 | 數值 | 数值
값 | 대상 | 가리키는 곳 | 내용 | 데이터 | 주소 | ip 주소 | 레코드 값 | 연결 대상 | 목적지
मान | वैल्यू | गंतव्य | सामग्री | पता | लक्ष्य | डेटा | की ओर इंगित करता है | आईपी पता
nilai | menunjuk ke | mengarah ke | isi | konten | tujuan | alamat | alamat ip | target | kandungan
giá trị | trỏ tới | trỏ đến | trỏ về | nội dung | đích | địa chỉ | địa chỉ ip | dữ liệu | ค่า | ชี้ไปที่ | ชี้ไปยัง | ปลายทาง | เนื้อหา | ที่อยู่
väärtus | viitab | viitab aadressile | sisu | sihtkoht | aadress | ip-aadress | vērtība | norāda uz | saturs | mērķis | adrese | ip adrese | reikšmė | rodo į | nukreipia į | turinys | adresas | ip adresas | gildi | bendir á | vísar á | innihald | adreça | adreça ip | kaže na | pokazuje na | usmjerava na | cilj | odredište | vsebina | naslov ip | مقدار | اشاره به | محتوا | آدرس | вредност | показује на | садржај
"""

TTL = """
ttl | time to live | ttl (seconds) | ttl seconds | ttl (s) | ttl (sec) | ttl in seconds | cache time | lifetime
gültigkeit | gültigkeitsdauer | lebensdauer | durée de vie | tiempo de vida | durata | tempo de vida | levensduur | livslängd
levetid | elinaika | elinikä | czas życia | doba platnosti | životnost | élettartam | élettartam (ttl) | durată de viață | timp de viață
время жизни | час життя | време на живот | χρόνος ζωής | yaşam süresi | مدة البقاء | מועד תפוגה | זמן חיים
有効期限 | 生存時間 | 存活时间 | 生存时间 | 存留時間 | 유효시간 | 유효 시간 | masa berlaku | waktu hidup | thời gian sống
"""

PRIORITY = """
priority | prio | preference | mx priority | pref | mx level | priority (mx) | mx preference
priorität | priorité | prioridad | prioridade | priorità | preferenza | prioriteit | prioritet | prioriteetti | priorytet | priorita
prioritás | elsőbbség | prioritate | приоритет | пріоритет | προτεραιότητα | öncelik | الأولوية | אולויות | עדיפות | 優先度 | 優先順位
优先级 | 優先級 | 优先 | 優先順序 | 우선순위 | 우선 순위 | प्राथमिकता | prioritas | keutamaan | độ ưu tiên | ưu tiên | ลำดับความสำคัญ
"""

WEIGHT = """
weight | gewichtung | gewicht | poids | peso | vikt | vægt | vekt | paino | waga | váha | súly | pondere | вес | вага | βάρος | ağırlık
重み | 权重 | 權重 | 가중치
"""

PORT = "port | puerto | porta | porto | poort | portti | порт | θύρα | ポート | 端口 | 連接埠 | 포트 | cổng"

FLAG = "flag | flags | caa flag | indicateur | drapeau | flaga | příznak | 标志 | フラグ | 플래그"

TAG = "tag | caa tag | property | étiquette | etiqueta | 标签 | タグ | 태그"

SERVICE = "service | dienst | servicio | serviço | servizio | usługa | služba | tjänst | サービス | 服务 | 서비스"

PROTOCOL = "protocol | protokoll | protocole | protocolo | protocollo | протокол | プロトコル | 协议 | 프로토콜"

NAMESERVER = """
name server | nameserver | name servers | nameservers | ns | dns server | dns servers | primary name server | secondary name server
namensserver | dns-server | serveur de noms | serveurs de noms | serveurs dns | serveur dns | servidor de nombres
servidores de nombres | servidores dns | servidor dns | servidor de nomes | servidores de nomes | server dei nomi | server dns
naamserver | naamservers | namnserver | namnservrar | navneserver | navneservere | navnetjener | navnetjenere | nimipalvelin
nimipalvelimet | nimipalvelimiin | serwer nazw | serwery nazw | serwery dns | jmenné servery | jmenný server | menný server
menné servery | névszerver | névszerverek | névszervereket | névkiszolgáló | server de nume | servere de nume | сервер имён
серверы имён | серверы имен | dns-серверы | сервери імен | dns-сервери | сървъри за имена | διακομιστές ονομάτων
διακομιστής ονομάτων | ad sunucusu | ad sunucuları | ad sunucularını | خوادم الأسماء | خادم الأسماء | שרתי שמות | שרת שמות | שרתי השמות | שרתי ה-dns
ネームサーバー | ネームサーバ | 域名服务器 | 名称服务器 | 名稱伺服器 | 네임서버 | 네임 서버 | नेमसर्वर | नेम सर्वर | server nama
máy chủ tên | máy chủ tên miền | เนมเซิร์ฟเวอร์
"""

NEEDED = """
required | mandatory | obligatory | erforderlich | notwendig | pflicht | pflichtfeld | benötigt | obligatoire | requis | nécessaire
obligatorio | requerido | necesario | obbligatorio | richiesto | necessario | obrigatório | necessário | verplicht | vereist | nodig
obligatorisk | obligatoriskt | krävs | nödvändig | påkrævet | nødvendig | påkrevd | pakollinen | tarvitaan | wymagane | wymagany | obowiązkowe
povinné | povinný | vyžadováno | požadované | kötelező | szükséges | obligatoriu | necesar | обязательно | обязательный | требуется
обов'язково | обов'язковий | задължително | υποχρεωτικό | απαιτείται | gerekli | zorunlu | مطلوب | إلزامي | חובה | נדרש | 必須 | 必要 | 必填 | 必需
필수 | 필요 | आवश्यक | अनिवार्य | wajib | diperlukan | bắt buộc | จำเป็น
"""

OTHER = f"""{NEEDED}
status | state | action | actions | notes | note | copy | comment | comments | description | class | proxy | proxy status | purpose
use | used for | what for | # | no | no. | id | modified | created | options | check | result | verified | active | enabled
zustand | aktion | aktionen | bemerkung | beschreibung | kommentar | zweck | statut | état | actions | remarque | commentaire | but
estado | acción | acciones | comentario | notas | propósito | uso | stato | azione | azioni | commento | scopo | ação | ações | finalidade
actie | acties | opmerking | doel van record | åtgärd | åtgärder | kommentar | syfte | handling | handlinger | formål | tila | toiminto
toiminnot | käyttö | stan | akcja | akcje | opis | uwagi | stav | akce | akcia | popis | poznámka | állapot | művelet | műveletek | leírás
stare | acțiune | acțiuni | descriere | статус | состояние | действие | действия | комментарий | описание | стан | дія | дії | опис
състояние | κατάσταση | ενέργεια | ενέργειες | περιγραφή | σχόλιο | durum | işlem | işlemler | açıklama | amaç | الحالة | الإجراء | الوصف
מצב | סטטוס | פעולה | פעולות | תיאור | הערה | 状態 | ステータス | 操作 | 備考 | 用途 | 状态 | 备注 | 描述 | 狀態 | 備註 | 상태 | 작업 | 설명 | 용도
स्थिति | कार्रवाई | विवरण | status | aksi | tindakan | keterangan | trạng thái | hành động | thao tác | mô tả | สถานะ | การดำเนินการ | คำอธิบาย
"""
