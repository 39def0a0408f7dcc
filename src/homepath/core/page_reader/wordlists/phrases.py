"""Words around the records: for the apex, for an empty field, for times; and what is only a page's furniture."""

from __future__ import annotations

APEX = """
main name | main domain name | bare name | without subdomain | without a subdomain | no subdomain | ohne subdomain | sans sous-domaine | sin subdominio | senza sottodominio | sem subdomínio | zonder subdomein | utan subdomän | bez subdomeny | bez subdomény | без поддомена
@ | root | apex | root domain | apex domain | naked domain | bare domain | root (@) | @ (root) | the root | your root domain | main domain
root host | zone apex | domain root | base domain | domain itself | the domain itself | domain without www | primary domain | your domain | the domain | your domain name
at sign | at-sign | at symbol | the at sign | @ sign | @ symbol | at-zeichen | @-zeichen | arobase | arroba | chiocciola | apenstaartje | kukac | zavináč
yourdomain | your-domain | domain apex | default host | your main domain | top level | your bare domain | domain name itself | your apex domain | your naked domain
hauptdomain | stammdomain | stamm-domain | root-domain | domain selbst | die domain selbst | ihre domain | ihrer domain | deine domain | deiner domain | apex-domain | domain ohne www | hauptdomäne | wurzel | nackte domain | domäne selbst | wurzeldomain
domaine racine | racine | la racine | à la racine | domaine principal | racine du domaine | votre domaine | le domaine lui-même | domaine nu | domaine apex | ton domaine | nom de domaine racine
raíz | en la raíz | dominio raíz | dominio principal | su dominio | tu dominio | la raíz | raíz del dominio | dominio desnudo | el dominio mismo
radice | la radice | alla radice | dominio radice | dominio principale | il tuo dominio | tuo dominio | il suo dominio | suo dominio | dominio nudo | radice del dominio
raiz | a raiz | na raiz | domínio raiz | domínio principal | seu domínio | o seu domínio | raiz do domínio | domínio nu | teu domínio
hoofddomein | rootdomein | root-domein | uw domein | je domein | kale domein | domein zelf | jouw domein
rotdomän | rotdomänen | rot | huvuddomän | huvuddomänen | din domän | roddomæne | roddomænet | rod | hoveddomæne | hoveddomænet | dit domæne | rotdomene | rotdomenet | hoveddomene | hoveddomenet | domenet ditt
juuriverkkotunnus | juuri | juuridomain | päädomain | verkkotunnuksesi | päätoimialue | juuriverkkotunnukselle | juuridomainille
domena główna | domeny głównej | główna domena | domenie głównej | korzeń | twoja domena | domena podstawowa | domenę główną | kořenová doména | kořen | hlavní doména | hlavní doménu | kořenovou doménu | vaše doména | kořenové domény | hlavní domény | koreňová doména | hlavná doména | koreň
gyökér | gyökértartomány | gyökérdomain | fődomain | gyökér domain | a fő domain | domeniul rădăcină | rădăcină | domeniul principal | domeniul dvs | domeniul tău | rădăcina domeniului
корень | корневой домен | корневого домена | основной домен | основного домена | корень домена | ваш домен | главный домен | корневому домену | кореневий домен | корінь | основний домен | кореневого домену | основен домейн | главен домейн | основния домейн | корен
ρίζα | ριζικός τομέας | ο τομέας σας | κύριος τομέας | ριζικό τομέα | κύριο domain | ρίζα του domain | το domain σας
kök | kök alan adı | kök domain | ana alan adı | alan adınız | kök alan adınız | ana domain | kök alan adınız için
الجذر | النطاق الجذر | النطاق الرئيسي | نطاقك | النطاق الأساسي | جذر النطاق | שורש | דומיין השורש | הדומיין הראשי | הדומיין שלך | דומיין ראשי | שורש הדומיין
ルート | ルートドメイン | ネイキッドドメイン | メインドメイン | ドメイン自体 | お使いのドメイン | ドメインのルート | 独自ドメイン | ルートドメイン用
根域名 | 根域 | 主域名 | 您的域名 | 你的域名 | 裸域名 | 裸域 | 根網域 | 主網域 | 您的網域 | 根网域 | 顶级域名
루트 | 루트 도메인 | 기본 도메인 | 메인 도메인 | 최상위 도메인 | 내 도메인 | 네이키드 도메인
रूट | रूट डोमेन | मुख्य डोमेन | आपका डोमेन | domain utama | domain root | akar | domain anda | domain induk
tên miền gốc | gốc | tên miền chính | tên miền của bạn | โดเมนหลัก | รูท | โดเมนราก | โดเมนของคุณ
"""

MAIN = """
main | bare | naked | apex | root | haupt | stamm | wurzel | nackte | principal | racine | raíz | desnudo | radice | nudo | raiz | hoofd | kale | huvud | rot | hoved | rod
pää | juuri | główn | podstawow | hlavn | kořenov | koreňov | fő | gyökér | rădăcin | корнев | основн | главн | головн | коренев | κύρι | ριζικ | kök | ana | utama | induk | akar
رئيسي | جذر | أساسي | ראשי | שורש | ルート | メイン | ネイキッド | 主 | 根 | 裸 | 루트 | 메인 | 최상위 | मुख्य | मूल | रूट | gốc | chính | หลัก | ราก
"""
DOMAIN = """
domain | domän | domæn | domein | domin | domèn | domen | verkkotunnu | domeen | alan ad | τομέα | όνομα τομέα | домен | домейн
نطاق | דומיין | ドメイン | 域名 | 域 | 網域 | 网域 | 도메인 | डोमेन | tên miền | โดเมน
"""
"""How words begin that are together the domain itself: `dominio principal`, `Hauptdomain`."""

BLANK = """
blank | empty | leave blank | leave empty | leave it blank | leave it empty | leave this blank | leave this empty | none | nothing | - | — | – | n/a | (blank) | (empty) | (none) | leave field blank | leave the field empty | leave this field empty | leave this field blank | keep empty | no entry
leer | leer lassen | blanco | branco | пустым | порожнім | празни | tomma | tomme | tyhjäksi | prázdny | feld leer lassen | kein eintrag | frei lassen | vide | laisser vide | laissez vide | champ vide | laisser ce champ vide | vacío | dejar en blanco | dejar vacío | en blanco | déjelo vacío | déjelo en blanco | deje en blanco | deje vacío
vuoto | lasciare vuoto | lascia vuoto | vazio | deixar em branco | deixe em branco | em branco | deixe vazio | leeg | leeg laten | laat leeg | tom | lämna tomt | tomt | lad stå tom | lad være tom | la stå tom | la være tom | tyhjä | jätä tyhjäksi
puste | pozostaw puste | zostaw puste | prázdné | ponechte prázdné | nechte prázdné | prázdne | nechajte prázdne | üres | hagyja üresen | hagyd üresen | gol | lăsați gol | lăsați necompletat | necompletat
пусто | пустое | оставьте пустым | оставить пустым | не заполняйте | порожньо | залиште порожнім | празно | оставете празно | κενό | αφήστε κενό | αφήστε το κενό | boş | boş bırakın | boş bırak
فارغ | اتركه فارغا | اتركه فارغًا | اترك فارغا | ריק | השאר ריק | השאירו ריק | 空欄 | 空白 | 空 | 空のまま | 空欄のまま | 留空 | 空白 | 不填 | 비워 두기 | 비워두기 | 빈칸 | 공백 | 비움 | खाली | खाली छोड़ें | kosong | kosongkan | biarkan kosong | để trống | trống | ว่าง | เว้นว่าง | เว้นว่างไว้
nichts | keine | rien | aucun | aucune | nada | ninguno | ninguna | niente | nessuno | nessuna | nenhum | nenhuma | geen | niets | inget | ingen | intet | ingenting | brak | nic | žádný | žádná | nincs | niciunul | niciuna
нет | ничего | немає | няма | κανένα | τίποτα | yok | لا شيء | لا يوجد | אין | なし | 無し | 无 | 無 | 没有 | 없음 | कोई नहीं | tidak ada | không có | ไม่มี
"""

OWN_DOMAIN = """
yourdomain | your-domain | your_domain | yourdomainname | example | mydomain | my-domain | domain | yoursite | your-site | mysite | deinedomain | deine-domain | ihredomain | ihre-domain | meinedomain | meine-domain | beispiel | musterdomain
votredomaine | votre-domaine | tondomaine | mondomaine | exemple | tudominio | tu-dominio | sudominio | midominio | ejemplo | dominio | tuodominio | iltuodominio | mionome | esempio | seudominio | seu-dominio | meudominio | exemplo
uwdomein | jouwdomein | mijndomein | voorbeeld | dindoman | din-doman | mindoman | exempel | ditdomaene | dit-domaene | dittdomene | eksempel | verkkotunnuksesi | omadomain | esimerkki | twojadomena | twoja-domena | mojadomena | przyklad
vasedomena | vase-domena | mojedomena | priklad | vasadomena | sajatdomain | domained | pelda | domeniultau | exemplu | vashdomen | vash-domen | moydomen | primer | alanadiniz | alan-adiniz | ornek | domainanda | domain-anda | namadomain | contoh | tenmien | tenmiencuaban | yourname | domainname | sitename | yourbusiness | yourbrand | yourcompany
"""

RECORD = """
record | records | entry | entries | rr | eintrag | einträge | eintrags | eintrages | einträgen | datensatz | records. | enregistrement | enregistrements | entrée | entrées | registro | registros | entrada | entradas | record | voce | voci | registo | registos | item
recordtype | vermelding | post | poster | posten | posterna | opslag | opføring | oppføring | oppføringen | oppføringer | tietue | tietueen | tietueet | tietueita | tietuetta | rekord | rekordu | rekordy | rekordów | wpis | wpisu | wpisy | záznam | záznamu | záznamy | záznamů | rekordot | rekordok | bejegyzés | bejegyzést | bejegyzések | înregistrare | înregistrarea | înregistrări | înregistrările | înregistrării | zapis | zapisa | zapise
запись | записи | записей | запису | запис | записів | записа | записът | записите | εγγραφή | εγγραφές | εγγραφής | εγγραφών | kaydı | kayıt | kayıtları | kayıtlar | kaydını | kaydının | سجل | السجل | سجلات | السجلات | سجلّ | רשומת | רשומה | רשומות | הרשומה | レコード | 记录 | 記錄 | 紀錄 | 解析 | 레코드 | 레코드를 | 레코드의 | रिकॉर्ड | रेकॉर्ड | catatan | rekod | bản ghi | ระเบียน | เรคคอร์ด | เรคอร์ด
"""

AUTO_TTL = """
auto | automatic | automatically | default | auto (default) | standard | provider default | as is | any
automatisch | standardwert | vorgabe | automatique | par défaut | défaut | automático | por defecto | predeterminado | automatico | predefinito | padrão | automatiskt | automatisk | standaard | automaattinen | oletus | automatyczny | automatycznie | domyślny | domyślne
automatický | automaticky | výchozí | predvolené | automatikus | alapértelmezett | automat | implicit | автоматически | автоматический | авто | по умолчанию | автоматично | за замовчуванням | автоматично | по подразбиране | αυτόματο | αυτόματα | προεπιλογή | otomatik | varsayılan
تلقائي | افتراضي | אוטומטי | ברירת מחדל | 自動 | 既定 | デフォルト | 自动 | 默认 | 預設 | 자동 | 기본값 | स्वचालित | डिफ़ॉल्ट | otomatis | bawaan | tự động | mặc định | อัตโนมัติ | ค่าเริ่มต้น
"""

UNITS: dict[int, str] = {
    1: "s sec secs second seconds sek sekunde sekunden seconde secondes segundo segundos secondo secondi seconden sekund sekunder sekuntia sekuntti sekundy sekund sekúnd másodperc mp secunde secundă секунд секунды секунда сек с секунди δευτερόλεπτα δευτ saniye sn ثانية ثوان שניות 秒 초 सेकंड detik saat giây วินาที",
    60: "m min mins minute minutes minuten min. minuto minutos minuti minuut minuter minut minutter minuuttia minuutti minuty minút minúty perc minute minut минут минуты минута мин хвилин хвилини хв минути λεπτά λεπτό dakika dk دقيقة دقائق דקות דקה 分 分钟 分鐘 分間 분 मिनट menit minit phút นาที",
    3600: "h hr hrs hour hours std std. stunde stunden heure heures hora horas ora ore uur uren timme timmar tim time timer t. tunti tuntia h. godzina godziny godzin godz hodina hodiny hodin hodín óra oră ore час часа часов ч година години годин год часа ώρα ώρες saat sa ساعة ساعات שעה שעות 時間 小时 小時 시간 घंटा घंटे jam giờ ชั่วโมง",
    86400: "d day days tag tage tagen jour jours día días dia dias giorno giorni dag dagen dagar dage dager päivä päivää dzień dni den dny dní deň nap zi zile день дня дней ден дни дні днів ημέρα ημέρες gün يوم أيام يום ימים 日 天 일 दिन hari ngày วัน",
    604800: "w week weeks woche wochen semaine semana settimana vecka uke uge viikko tydzień týden týždeň hét săptămână неделя неделю тиждень hafta أسبوع שבוע 週間 周 주 minggu tuần",
}  # fmt: skip
"""Words for lengths of time, by their seconds."""

BUTTONS = """
check now | check again | verify now | test now | refresh now | retry now | recheck | add now | try again | jetzt prüfen | erneut prüfen | vérifier maintenant
copy | copied | copied! | copy value | copy to clipboard | click to copy | edit | save | cancel | more | show | hide | view | help | info | learn more | remove | refresh | verify | check | ok | done | continue | next | back | add record | add | show more | copy all | close | menu | details | select | manage | delete | actions | download | retry | check status | check again | recheck | expand | add new record | save changes | verify now | i've done this | need help? | content_copy | required
kopieren | kopiert | in die zwischenablage kopieren | bearbeiten | speichern | abbrechen | prüfen | weiter | zurück | hilfe | mehr erfahren | löschen | anzeigen | überprüfen | aktualisieren | erneut prüfen
copier | copié | modifier | enregistrer | annuler | vérifier | continuer | retour | suivant | aide | supprimer | en savoir plus | copier la valeur | actualiser
copiar | copiado | editar | guardar | cancelar | verificar | continuar | volver | siguiente | ayuda | eliminar | más información | copia | copiato | modifica | salva | annulla | verifica | continua | indietro | avanti | aiuto | elimina | salvar | voltar | avançar | próximo | ajuda | excluir | copiar valor | atualizar
kopiëren | kopieer | gekopieerd | bewerken | opslaan | annuleren | controleren | doorgaan | terug | volgende | verwijderen | kopiera | kopierat | redigera | spara | avbryt | verifiera | fortsätt | tillbaka | nästa | ta bort | kopier | kopiér | kopieret | kopiert | rediger | gem | lagre | annuller | avbryt | bekræft | bekreft | fortsæt | fortsett | tilbage | tilbake | næste | neste | slet | slett
kopioi | kopioitu | muokkaa | tallenna | peruuta | tarkista | jatka | takaisin | seuraava | poista | kopiuj | skopiowano | edytuj | zapisz | anuluj | sprawdź | zweryfikuj | dalej | wstecz | usuń | pomoc | kopírovat | zkopírovat | zkopírováno | upravit | uložit | zrušit | ověřit | pokračovat | zpět | další | smazat | kopírovať | skopírovať | upraviť | uložiť | overiť
másolás | másolva | szerkesztés | mentés | mégse | ellenőrzés | tovább | vissza | törlés | copiază | copiat | editează | editați | salvează | anulează | verifică | continuă | înapoi | șterge
копировать | скопировать | скопировано | изменить | сохранить | отмена | проверить | далее | назад | удалить | помощь | редактировать | копіювати | скопіювати | скопійовано | редагувати | зберегти | скасувати | перевірити | далі | видалити | копирай | копиране | редактирай | запази | отказ | провери | изтрий
αντιγραφή | αντιγράφηκε | επεξεργασία | αποθήκευση | ακύρωση | επαλήθευση | συνέχεια | πίσω | διαγραφή | kopyala | kopyalandı | düzenle | kaydet | iptal | doğrula | devam | devam et | geri | sil | yardım
نسخ | تم النسخ | تعديل | تحرير | حفظ | إلغاء | تحقق | متابعة | رجوع | حذف | העתק | העתקה | הועתק | ערוך | עריכה | שמור | ביטול | אמת | המשך | חזור | מחק
コピー | コピーしました | コピーする | 編集 | 保存 | キャンセル | 確認 | 次へ | 戻る | 削除 | ヘルプ | 詳細 | 复制 | 已复制 | 編輯 | 编辑 | 保存 | 取消 | 验证 | 继续 | 返回 | 下一步 | 删除 | 帮助 | 複製 | 已複製 | 儲存 | 驗證 | 繼續 | 刪除
복사 | 복사됨 | 복사하기 | 편집 | 수정 | 저장 | 취소 | 확인 | 계속 | 뒤로 | 다음 | 삭제 | 도움말 | कॉपी करें | कॉपी | संपादित करें | सहेजें | रद्द करें | salin | disalin | ubah | simpan | batal | verifikasi | lanjutkan | kembali | hapus | sao chép | đã sao chép | chỉnh sửa | sửa | lưu | hủy | xác minh | tiếp tục | quay lại | xóa | คัดลอก | คัดลอกแล้ว | แก้ไข | บันทึก | ยกเลิก | ตรวจสอบ | ลบ
"""

STATUS = """
pending | active | verified | not verified | not found | missing | valid | invalid | ok | connected | not connected | nicht verbunden | non connecté | connecté | no conectado | non connesso | não conectado | niet verbonden | incorrect | correct | waiting | failed | error | success | unverified | in progress | done | setup required | needs attention | found | live | processing | dns only | proxied | enabled | disabled | yes | no | ready | not set | not configured | action required | checking | not detected | misconfigured | new | mismatch | no match | match
ausstehend | aktiv | verifiziert | nicht verifiziert | nicht gefunden | fehlt | gültig | ungültig | bestätigt | verbunden | in prüfung | wartet | falsch | richtig | offen | en attente | actif | vérifié | non vérifié | introuvable | manquant | valide | invalide | en cours | pendiente | activo | verificado | no verificado | no encontrado | falta | válido | en espera | in attesa | attivo | verificato | non verificato | mancante | pendente | ativo | não verificado | não encontrado | ausente
in afwachting | actief | geverifieerd | niet geverifieerd | niet gevonden | ontbreekt | väntar | väntande | aktiv | verifierad | ej verifierad | saknas | afventer | bekræftet | ikke bekræftet | mangler | venter | bekreftet | odottaa | aktiivinen | vahvistettu | ei vahvistettu | puuttuu | oczekuje | oczekujący | aktywny | zweryfikowano | niezweryfikowany | brak | čeká | čekající | aktivní | ověřeno | neověřeno | chybí | függőben | aktív | ellenőrizve | hiányzik | în așteptare | activ | verificat | neverificat | lipsește
ожидание | ожидает | активен | подтверждено | подтверждён | не найден | не найдено | отсутствует | очікується | активний | підтверджено | не знайдено | відсутній | изчакване | активен | потвърден | липсва | σε εκκρεμότητα | εκκρεμεί | ενεργό | επαληθευμένο | λείπει | beklemede | etkin | aktif | doğrulandı | doğrulanmadı | eksik | قيد الانتظار | نشط | تم التحقق | مفقود | ממתין | פעיל | מאומת | חסר
保留中 | 未確認 | 確認済み | 有効 | 未設定 | 待機中 | 待处理 | 未验证 | 已验证 | 有效 | 缺失 | 等待中 | 等待验证 | 待驗證 | 已驗證 | 대기 중 | 대기중 | 활성 | 확인됨 | 없음 | 미확인 | लंबित | सक्रिय | सत्यापित | tertunda | menunggu | aktif | terverifikasi | belum diverifikasi | đang chờ | chờ xác minh | đã xác minh | hoạt động | รอดำเนินการ | ใช้งานอยู่ | ยืนยันแล้ว
"""

BOTH = """
both | all | each | every | any | beide | alle | jeweils | sämtliche | allen | tous | toutes | les deux | chacun | todos | todas | ambos | ambas | cada | tutti | tutte | entrambi | entrambe | ciascuno | cada um | båda | alla | samtliga | begge | molemmat | kaikki | oba | obie | wszystkie | všechny | všetky | mindkettő | mindegyik | mindkét | minden | ambele | toate | оба | обе | все | обидва | усі | всі | двата | всички | και τα δύο | όλες | όλα | her ikisi | hepsi | tümü | tüm | كلا | كلاهما | جميع | شניהם | שתי | שניהם | כל | どちらも | 両方 | すべて | いずれも | 都是 | 两个 | 均为 | 全部 | 兩者 | 모두 | 둘 다 | दोनों | सभी | keduanya | semua | kedua | cả hai | tất cả | ทั้งสอง | ทั้งหมด
"""

OPTION = """
option | method | way | variant | alternative | choice | möglichkeit | variante | methode | weg | méthode | choix | opción | método | forma | alternativa | opzione | metodo | scelta | opção | optie | manier | alternativ | metod | sätt | mulighed | metode | måte | vaihtoehto | tapa | menetelmä | opcja | sposób | metoda | wariant | možnost | způsob | varianta | možnosť | spôsob | lehetőség | módszer | opció | opțiune | opțiunea | metoda | varianta | вариант | способ | метод | варіант | спосіб | начин | опция | επιλογή | μέθοδος | τρόπος | seçenek | yöntem | yol | الخيار | خيار | الطريقة | طريقة | אפשרות | שיטה | דרך | オプション | 方法 | 選択肢 | 方式 | 选项 | 方案 | 選項 | 옵션 | 방법 | 선택 | विकल्प | तरीका | opsi | pilihan | cara | metode | lựa chọn | cách | phương án | phương pháp | ตัวเลือก | วิธีที่ | วิธี
"""


FORWARDS = "url redirect | redirect | url forward | forward | url redirect record | web forward | web redirect | url | weiterleitung | redirection | redireccionamiento | reindirizzamento | redirecionamento"

NAMED = """
named | called | with the name | with name | namens | mit dem namen | nommé | appelé | avec le nom | llamado | con el nombre | con nombre | chiamato | con nome
chamado | com o nome | com nome | genaamd | met de naam | met naam | med namnet | med navnet | ved navn | nimeltä | o nazwie | s názvem | s názvom | numit
cu numele | с именем | з іменем | με όνομα
"""

WITHOUT = """
no | not | without | ohne | kein | nicht | sans | sin | senza | sem | zonder | geen | utan | uden | uten | ilman | bez | nélkül | fără | без | χωρίς
"""

HOST_BEFORE = """
for | at | named | called | name | host | on | of | from | für | unter | bei | namens | auf. dem. | pour | sur | nommé | appelé | de | para | en | llamado | con. nombre | per | su | chiamato | com. nome | voor | op | genaamd | met. naam | för | på | med. namn | for | med. navn | nimeltä | dla | na | o nazwie | pro | na | s názvem | pre | s názvom | pentru | numit | для | с именем | на | з іменем | за | για | στο | με. όνομα | için | adlı | ل | باسم | عبור | עבור | בשם | untuk | cho | สำหรับ
"""

VALUE_BEFORE = """
to | pointing | points | value | target | towards | content | destination | with value | containing | resolves | into | is | should be | by | with | auf | zu | nach | zeigt | zeigend | verweist | mit | ziel | inhalt | durch | vers | à | pointant | pointe | valeur | par | a | al | hacia | apunta | que apunta | apunte | apuntando | valor | por | con | verso | punta | che punta | valore | ad | para | aponta | apontando | aponte | naar | verwijst | wijst | met | door | till | mot | pekar | värdet | med | til | peger | peker | værdien | verdien | osoittaa | arvo | arvolla | arvoon | arvoksi | osoitteeseen | na | do | wskazuje | wskazujący | wartością | ukazující | směřuje | směřující | odkazuje | hodnotou | hodnota | către | în | spre | indică | valoarea | на | к | указыв | со значением | значением | вказує | значенням | сочи | към | със стойност | σε | προς | δείχνει | τιμή | إلى | الى | بقيمة | يشير | אל | ל | מצביע | עם | ke | menjadi | menunjuk | mengarah | dengan | nilai | tới | đến | thành | về | trỏ | giá trị | ไปที่ | ไปยัง | ชี้
"""

BE = "is | was | ist | war | est | etait | es | era | e | ar | er | var | on | oli | jest | byl | je | bol | van | este | był | είναι | ήταν | должна | має"

UNTIL = """
until | till | from | starting | after | before | as | bis | ab | vor | nach | jusqu'au | dès | à | avant | après | hasta | desde | antes | después
fino | dal | prima | dopo | até | depois | tot | vanaf | voor | na | till | från | før | fra | efter | do | od | до | с | після | після | z | przed | po
"""
"""Words before a date, until or from which a record holds: a page cannot know which day it is read."""

YES = "yes | y | ja | oui | sí | si | sim | tak | ano | áno | да | так | evet | igen | kyllä | da | ναι | 是 | はい | 예 | 네 | نعم | כן | हाँ | ya | có | ใช่"
NO = "no | n | nein | non | não | nee | nej | nei | nie | ne | нет | ні | не | hayır | nem | ei | nu | όχι | 否 | いいえ | 아니요 | لا | לא | नहीं | tidak | không"

FROM = """
from | von | vom | de | du | depuis | desde | da | dal | van | från | fra | z | ze | od | с | со | из | з | із | din | από | dari | từ | من | מ | 从 | 從 | 由 | arvosta | osoitteesta
"""

BEFORE = """
wrong | incorrect value | falsch | faux | incorrecto | sbagliato | errado | fout | forkert | feil
before | was | have | you have | we have | what you have | what you have now | what we see | what we found | vorher | zuvor | bisher | avant | antes | prima | voorheen | före | før | ennen | przed | před | pred | előtte | înainte | до | раньше | перед | πριν | önce | قبل | לפני | 変更前 | 之前 | 更改前 | 변경 전 | было | было так | bylo | पहले | sebelum | trước | ก่อน | ist | is | your dns | in dns | in your dns | live | in your zone | at your provider | dns now
"""

AFTER = """
right | correct | correct value | richtig | juste | correcto | giusto | certo | goed | rätt | rigtig | riktig
after | станет | стане | bude | updated | need | you need | what you need | what we need | what it should be | becomes | will become | is to be | shall be | afterwards | then | nachher | danach | künftig | straks | après | después | dopo | depois | daarna | efter | jälkeen | po | potem | poté | utána | după | после | потом | після | μετά | sonra | بعد | אחרי | 変更後 | 之后 | 更改后 | 변경 후 | बाद में | sesudah | setelah | sau | หลัง | soll
"""

OWN_LABEL = """
domain | your domain | domain name | site | website | zone | for domain | connected domain | domain to connect | my domain | dns zone
ihre domain | deine domain | domaine | votre domaine | nom de domaine | dominio | su dominio | tu dominio | il tuo dominio | domínio | seu domínio | nombre de dominio
domein | uw domein | je domein | domän | din domän | domæne | dit domæne | domene | domenet ditt | verkkotunnus | verkkotunnuksesi | domena | twoja domena | doména | vaše doména | vaša doména
tartomány | domain név | domeniu | domeniul tău | домен | ваш домен | домейн | τομέας | alan adı | alan adınız | النطاق | نطاقك | דומיין | הדומיין שלך | ドメイン | ドメイン名 | 域名 | 您的域名 | 網域 | 도메인 | डोमेन | tên miền | โดเมน
"""

ZONE = """
zone | dns zone | domain | domain name | website | site | zone name | domäne | domaine | nom de domaine | dominio | nombre de dominio | domínio | domein
domän | domæne | domene | verkkotunnus | domena | doména | tartomány | domeniu | домен | τομέας | alan adı | النطاق | דומיין | ドメイン | 域名 | 網域 | 도메인
डोमेन | tên miền | โดเมน
"""
"""What a column is called that says for which domain a row is, beside one for the name."""
