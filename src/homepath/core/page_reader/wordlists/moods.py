"""Words that say what is to happen with records: stems, matched at the begin of a word (scripts without spaces:
anywhere); and words that mean one thing in a form and another in a sentence.

One line a language. A stem that is a whole word and no more ends in `.`; phrases are separated by `|`.
"""

from __future__ import annotations

DELETE = """
delet | del. | no longer | gone. | nicht mehr | ya no. | non più | não mais | remov | eras | get rid of | take out. | discard | clear out. | drop the. | take away. | must go. | has to go. | have to go. | needs to go. | should go. | can go.
lösch | entfern | muss weg. | kann weg. | soll weg. | gelöscht | zu löschend | supprim | suppress | effac | enlev | retir | elimin | borr | bórr | quít | suprím | quit. | quita. | quitar. | quite. | elimín | suprim
remuev | cancell | rimuov | togli | apag | exclu | remova. | verwijder | wis. | wissen. | haal. | ta bort | tar bort | borttag | tag bort | radera
slet. | slett | slettes. | fjern | poist | usuń | usun | skasuj | smaž | smaz | odstra | vymaž | vymaza | zmaž
töröl | töröl | törl | távolíts | távolít | șterge | ștergeți | șterg | sterge | elimina | înlătur | obriš | izbriš | ukloni
удал | убер | сотр | видал | прибер | стер | изтри | премахн | διαγρ | διέγρα | αφαιρ | κατάργ | καταργ | sil. | silin | siliniz. | kaldır | kaldir
احذف | حذف | إزالة | أزل | امسح | احذفوا | מחק | מחקו | מחקו | מחיק | הסר | הסירו | למחוק | להסיר | 削除 | 消去 | 取り除 | 删除 | 刪除 | 移除 | 清除
삭제 | 제거 | 지우 | हटा | मिटा | hapus | dihapus | penghapus | buang | padam | xóa | xoá | gỡ bỏ | loại bỏ | ลบ | เอาออก
șters. | șterse. | kill. | nuke. | zap. | wipe. | trash. | kustuta | eemalda | odstrá | вилуч | izdzēs | dzēsiet | noņem | ištrin | pašalin | eyða | eyddu | fjarlæg | esborr | zbriši | zbriše | pobriši | briši. | bri.
"""

ADD = """
add. | adds. | adding | added | creat | enter. | enters. | entered | entering | insert | set up | set. | put. | use. | publish | point. | make. | type in. | configure | fill in | paste
hinzu | anleg | leg. | legen. | anzuleg | erstell | eintrag. | eintragen. | eingetragen. | trag. | tragen. | setz | richte | ergänz | füg | hinterleg | verwend
ajout | créez | créer | crée. | saisi | insér | définis | configur | renseign | utilis | ajoutez | mettez | mettre
añad | agreg | crea | cree. | introduc | ingres | pon. | ponga. | poner. | pongas. | pusier | metta. | metti. | mettere. | coloque | colocar | inserisc | aggiung | impost | adicion | crie | criar | insira | acrescent | use. | usa. | utilic
toevoeg | voeg | maak. | maken. | zet. | zetten | aanmak | stel. | gebruik | lägg | lagt. | sätt. | sätta. | sæt. | sætte. | sette. | skapa | ange. | tilføj | opret | indtast | legg | opprett | skriv | bruk | brug
lisä | lisät | luo. | luodaan | aseta | syötä | dodaj | dodan | dodać | utworzyć | utwórz | wpisz | wprowadź | ustaw | użyj | přid | vytvoř | vlož | nastav | zadejte | pridaj | pridať | vytvor | použij
adj. | adja. | adjon. | hozz | hozd létre | hozza létre | felvenni | felvesz | vegye fel | vegyen fel | vegyenek fel | vegyél fel | állíts | írja be | adaug | adăug | creați | creează | introdu | setează | setați | dodajte | unesite | postavi
добав | создай | создать | создан | внес | введ | пропиш | установ | укаж | дода | створ | вкаж | добави | създай | въвед
προσθ | πρόσθεσ | δημιουργ | εισαγ | εισάγ | ορίστε | ρυθμ | ekle | oluştur | girin | gir. | ayarla | kullan
أضف | إضافة | اضف | أنشئ | أدخل | إنشاء | أضيفوا | הוסף | הוסיפו | הוספ | להוסיף | צור | צרו | הזן | הזינו | הגדר | הגדירו | 追加 | 作成 | 設定 | 登録 | 入力
添加 | 新增 | 创建 | 建立 | 设置 | 設置 | 加入 | 填写 | 填入 | 추가 | 만드 | 만들 | 생성 | 설정 | 입력 | 등록 | जोड़ | बना | डाल | दर्ज | सेट
tambah | menambah | buat. | buatlah. | masukkan | atur. | gunakan | thêm | tạo | nhập | đặt. | thiết lập | เพิ่ม | สร้าง | ใส่ | ตั้งค่า | กรอก
lisage | lisada. | sisesta | looge | pievieno | izveidoj | ievadiet | pridėk | pridėti | sukurk | įvesk | ustvari | vnesi | vpiši | upiši | stvori | bættu við | stofna | afegi | afegeix | creeu | introduï | اضافه | ایجاد | dej. | dejte. | zadej.
"""

CHOOSE = """
choose | select | pick | type. | wähl | auswähl | gib. | geben. | choisi | sélectionn | tapez | collez | indiquez | inserit | pegue | pega. | incolla | cole. | plak | klistra | sæt ind | lim inn | liitä | wklej | вставьте | вставте | επικολλ | yapıştır | الصق | הדבק | 貼り付け | 粘贴 | 貼上 | 붙여 | tempel | dán. | วาง | eleg | elij | seleccion | escrib | scegli | selezion | digit | escolh | selecion
kies | selecteer | typ. | välj | vælg | velg | valitse | kirjoita | wybierz | vyber | vyplň | zvol | válassz | aleg | selectați | tastați | выбер | выбир | обер | избер
επιλέξ | γράψτε | seç | yazın | اختر | اكتب | בחר | בחרו | הקלד | 選択 | 选择 | 選擇 | 선택 | चुन | pilih | ketik | chọn | gõ. | เลือก | พิมพ์
"""
"""Further words for what is done at a field of a form."""

KEEP = """
keep | leave. | do not touch | don't touch | untouched | unchanged | stay | preserve | retain | remain | not ours. | belong to.
behalt | belass | bleib | nicht ändern | unverändert | lass. | lassen. | unberührt | conserv | laiss | gard | ne touchez | inchang
manten | conserv | deja. | deje. | déjalo | dejar. | no toque | no toques | no modifi | mantieni | mantenere | lascia | non toccare
manter. | mantenha | deixe. | deixar. | não altere | não toque | não mexa | behoud | laat. | ongewijzigd | behåll | lämna | rör inte | oförändra
behold | bevar | lad. | uændre | rør ikke | la. stå | uendre | säilyt | jätä | älä muuta | zachowaj | zostaw | pozostaw | nie zmieniaj | bez zmian
ponech | nechte. | neměň | zachov | beze změny | nemeňte | hagyj | hagyd. | tartsa meg | maradj | változatlan | păstr | lăsa | nu modific
остав | сохран | не трога | не измен | не меня | залиш | збереж | не чіпа | не змін | запаз | не променя
διατηρ | κρατ | αφήσ | μην αλλάξ | koru | bırak | dokunma | değiştirme | احتفظ | اترك | أبق | لا تغير | לא לגעת | השאר | השאירו | שמור. | אל תשנ
そのまま | 残し | 維持 | 変更しない | 触らない | 保留 | 不要更改 | 不要修改 | 维持 | 保持 | 유지 | 그대로 | 남겨 | 두세요 | रखें | रहने | pertahankan | biarkan
jangan ubah | kekalkan | giữ | không thay đổi | để nguyên | เก็บ | คงไว้ | อย่าเปลี่ยน | อย่าแก้ไข
jätke | jäta. | ärge muut | ära muuda | ärge puut | atstāj | nemain | saglabā | palik | nekeis | óbreytt | láttu vera | deixeu | no toqueu | no canvieu | manteniu | pusti | ne spreminja | ne diraj | ne mijenja | ostavi | zadrži
"""

CURRENT = """
current | currently | at the moment | right now | presently | got. | have: | existing | old. | old records. | previous | previously | former | formerly | at present | outdated | actual value | actual | detected | found. | we found | instead of
present value | so far | as of now | legacy | obsolete | today. | conflicting | conflict | was. | before. | in place now | now. | imported | still point | still return | still show | still resolv | still lead | still has | still have | still go | is still. | are still. | unexpected | superfluous | stale. | out of date | left over | leftover
aktuell | im moment | bisher | derzeit | bei uns steht | dort steht | da steht | momentan | vorhanden | bestehend | alte. | alten. | alter. | altes. | alt. | gefunden | ist-wert | ist. wert | statt. | anstelle | zurzeit | früher | zeigt noch | noch auf. | jetzt. | vorher. | veraltet
actuel | en ce moment | pour l'instant | existant | ancien | trouvé | détecté | au lieu de | précédent | avant. | maintenant. | pointe encore | pointe toujours
actual. | en este momento | por ahora | actuales. | actualmente. | existente | antigu | viej | encontrad | en lugar de | en vez de | anterior | hasta ahora | antes. | ahora. | apunta todavía | apunta aún | todavía apunta | aún apunta
attual | al momento | esistent | no momento | neste momento | vecchi | precedent | rilevat | trovat | invece di | al posto di | atual. | atuais. | atualmente | antig | velh | em vez de | detectad | adesso. | ora. | prima. | agora.
huidig | op dit moment | bestaand | oude. | oud. | vorige | gevonden | in plaats van | nuvarande | befintlig | gammal | gamla | tidigare | hittade | i stället för | istället för | nuläge | nu.
nuværende | i øjeblikket | for øyeblikket | eksisterende | gammel | gamle | tidligere | fundet | i stedet for | nåværende | funnet | nykyi | nykyinen | nykyise | olemassa | vanha | vanhat | vanhan | löydetty | sijaan
obecn | aktualn | w tej chwili | bieżąc | istniejąc | star. | stare. | stary. | starego. | poprzedn | znalezion | zamiast | dotychczas | teraz. | nyní. | teď. | současn | aktuáln | stávající | existujíc | starý | staré | starou | nalezen | místo | doteraj | terajš
jelenleg | jelenlegi | pillanatnyilag | meglévő | régi | korábbi | talált | helyett | curent | existent | vech | anterior | în loc de | actual | trenutn | postoje
текущ | на данный момент | существующ | стар | прежн | найден | вместо | сейчас | поточн | наявн | існуюч | колишн | знайден | замість | зараз | сегашн | настоящ | съществуващ | намерен
τρέχ | υπάρχ | παλι | προηγ | βρέθηκ | αντί | σημερ | mevcut | şu anki | şu an | şimdiki | eski | önceki | bulunan | yerine | geçerli
الحالي | القديم | القائم | السابق | الموجود | بدلا من | بدلاً من | נוכחי | קיים | קיימת | קיימות | ישן | ישנה | ישנות | הישנ | במקום | קודם | נמצא
現在 | 既存 | 古い | 旧 | 以前 | 検出 | 代わりに | 当前 | 目前 | 现有 | 現有 | 旧的 | 舊 | 原有 | 原来 | 检测到 | 而不是 | 當前
현재 | 기존 | 이전 | 감지된 | 대신 | वर्तमान | मौजूदा | पुरान | के बजाय | saat ini | sekarang | lama. | yang ada | sebelumnya | semasa | sedia ada | bukan
hiện tại | hiện có | cũ. | trước đây | thay vì | ปัจจุบัน | ที่มีอยู่ | เดิม | เก่า | แทนที่จะ
constat | τώρα. | 现状 | 現狀 | 現況 | כרגע | עכשיו | حاليا | حالياً | الآن. | अभी. | acum. | сега. | тепер. | teperišn | sada. | trenutačno | nüüd. | tagad. | núna.
peker fortsatt | fortsatt pek | peger stadig | stadig peg | pekar fortfarande | fortfarande pek | osoittaa edelleen | osoittaa yhä | edelleen osoittaa | osoittaa nyt | nyt osoit | nog steeds | wijst nog | verwijst nog | staat nog | nadal wskazuj | wciąż wskazuj | stále ukaz | stále směř | még mindig | încă indic | indică încă | по-прежнему | до сих пор | всё ещё | все ещё | все ще | досі | все още | ακόμα δείχν | εξακολουθ | hala. | hâlâ. | لا يزال | ما زال | עדיין | まだ | 仍然 | 仍指向 | 还指向 | 아직 | 여전히 | अभी भी | masih mengarah | masih menuju | masih menunjuk | vẫn trỏ | ยังชี้
se encontró | encontrou | aangetroffen | hittades | znaleziono | wykryto | praegu | vana. | vanad. | olemasolev | pašreiz | vecais | vecā | veco | vecie | esošais | dabar. | esam | senas | seną | dabartin | núverandi | gamla | antic. | obstoječ | stari. | stara. | staru.
"""

REQUIRED = """
required | require | expect | missing | fehlend | manquant | faltan | mancan | ontbrek | saknas | mangl | puuttuv | brakuj | chyběj | hiányz | lipsă | недостающ | отсутствующ | відсутн | λείπ | eksik | 不足 | 缺少 | 누락 | new. | desired | should be | should | must | has to. | have to. | needs to. | ought to. | need. | needs. | needed | wanted | want. | target value | change to | change it to | change them to | correct value | correct | recommended | proposed | will be. | replace with | ours.
soll. | soll-wert | sollwert | sollte | neu. | neue. | neuen. | neuer. | neues. | erforderlich | benötigt | erwartet | ändern auf | ändern in | richtig | gewünscht | empfohlen | künftig | muss. | notwendig
requis | faut. | nouveau | nouvel | attendu | souhait | nécessaire | doit. | doivent. | à saisir | remplacer par | recommand | correct | voulu
requerid | nuev | esperad | desead | necesari | debe. | deben. | debería | cambiar a | correcto | recomendad | obligatori
richiest | nuov | attes | desiderat | necessari | dev. | deve. | devono. | corrett | consigliat | obrigatóri | nov. | novo | nova. | novos | novas | esperad | necessári | devem. | exigid | desejad
vereist | nieuw | verwacht | gewenst | nodig | moet. | juist | aanbevolen | krävs | ny. | nya. | nytt | förväntat | önskat | ska. vara | rätt. | rekommenderat
påkræv | nye. | forvent | ønsk | skal. | rigtig | anbefal | påkrev | nødvendig | nyt. | riktig | kreves | uusi | uudet | uuden | vaad | odotettu | oikea | tarvittava | pitää
wymagan | nowy. | nowa. | nowe. | nowego. | oczekiwan | docelow | powinn | powinien | prawidłow | zalecan | potrzebn | nové | nový | nová. | požadov | očekáv | správn | potřebn | má být | má ale | má teď | vyžadov | požadovan
szükséges | új | elvárt | kívánt | helyes | kell. | ajánlott | necesar | nou. | nouă. | noua. | noi. | așteptat | dorit | trebuie | corect | obligatoriu | potrebn | novi.
требу | нов | ожида | нужн | необходим | должн | правильн | рекоменд | потрібн | очіку | необхідн | має. бути | має вказув | має бути | повинн | изисква | очаквана | трябва
απαιτ | νέ | αναμεν | σωστ | πρέπει | επιθυμητ | gerekli | yeni | beklenen | olmalı | doğru | istenen | zorunlu | gereken | gerekiyor
المطلوب | الجديد | المتوقع | يجب | الصحيح | الموصى | נדרש | חדש | צפוי | רצוי | צריך | צריכ | אמור | חייב | הנכון | דרוש
必要 | 正しく | 新しい | 新規 | 期待 | 正しい | 新. | 推奨 | 変更後 | 所需 | 需要 | 新的 | 新值 | 应为 | 应设置为 | 应改为 | 應設定為 | 预期 | 正确 | 要求 | 目标值 | 應為 | 预计 | 应该 | 필요 | 새. | 새로운 | 예상 | 올바른 | 필수 | 변경할
आवश्यक | नया | नए | नई | अपेक्षित | सही | चाहिए | diperlukan | baru | diharapkan | harus | seharusnya | wajib | benar | yang benar | dikehendaki
bắt buộc | mới. | cần. | yêu cầu | mong đợi | đúng. | phải. | จำเป็น | ใหม่ | ที่ต้องการ | ถูกต้อง | ต้อง
esperab | se espera. | esperav | förväntad | wants. | asks for. | 어야 합니다 | 여야 합니다 | dovrebb | dovrà | deveri | ska. | должен | повинен | měl. | měla. | má. ukaz | kellene | müsst | devra | devrait | tendría que | ar trebui
vajalik | nõutav | uus. | nepieciešam | jauns | jaunais | jaunā | reikaling | reikia | nauj | nauðsyn | nýtt. | requerit | zahtevan | potreben | zahtijevan | očekivan
"""

OPTIONAL = """
optional | optionally | if you like | if you want | freiwillig | optionnel | facultati | opcional | opzional | facoltativ | optioneel | valfri | frivillig | valgfri | valinnai
opcjonal | volitel | voliteľ | opcionális | választható | opțional | необязательн | опциональн | по желанию | необов'язков | необов’язков | за бажанням | за потреби | προαιρετ | isteğe bağlı | اختياري | אופציונלי
任意 | オプション | 可选 | 可選 | 선택 사항 | 선택사항 | वैकल्पिक | opsional | pilihan | tùy chọn | ไม่บังคับ | ตัวเลือก
valikuline | vabatahtlik | neobligāt | pēc izvēles | neprivalom | valfrjáls | neobvezn | izbirn | neobavezn
"""

INSTEAD = """
instead of | rather than | statt. | anstelle | anstatt | au lieu de | en lugar de | en vez de | invece di | al posto di | em vez de | in plaats van
i stället för | istället för | i stedet for | zamiast | místo | în loc de | вместо | замість | αντί | بدلا من | بدلاً من | במקום | thay vì
"""
"""Words before the value that another one takes the place of."""

RESPECTIVELY = """
respectively | in that order | in this order | jeweils | in dieser reihenfolge | respectivement | dans cet ordre | respectivamente | rispettivamente
respectievelijk | respektive | henholdsvis | vastaavasti | odpowiednio | respektíve | illetve | respectiv | соответственно | відповідно | съответно
αντίστοιχα | sırasıyla | على التوالي | בהתאמה | それぞれ | 分别 | 分別 | 각각 | क्रमशः | masing-masing | lần lượt | ตามลำดับ
"""
"""Words by which the first name has the first value, and the second the second."""

INSTEAD_BEHIND = """
yerine | sijaan | sijasta | helyett | の代わりに | ではなく | 대신 | के बजाय | की जगह
"""
"""The same, behind that value."""

BUT = """
but | aber | jedoch | sondern | mais | pero | sino | ma | però | mas | porém | maar | men | mutta | vaan | ale | lecz | však | avšak | hanem | dar | но
але | ама | αλλά | ama | fakat | ancak | lakin | لكن | אבל | ですが | だが | 但 | 하지만 | 지만 | लेकिन | tetapi | tapi | nhưng | แต่
"""
"""Words between two values of which one is not the right one."""

CHECKS = """
check that | check whether | check if | make sure | ensure | verify that | confirm that | ob beide | ob alle | ob die | ob diese | stellen sie sicher
stelle sicher | vergewissern | vérifiez que | vérifie que | assurez-vous | assure-toi | comprueb | asegúr | assicurat | verifica che | verifichi che
verifique se | certifique | controleer of | zorg dat | zorg ervoor | kontrollera att | se till att | sørg for | kontroller at | varmista | sprawdź, czy
upewnij | zkontrolujte, zda | ujistěte | ellenőrizze, hogy | verificați dacă | asigurați | убедитесь | проверьте, что | переконайтеся | перевірте, чи
уверете се | βεβαιωθείτε | emin olun | kontrol edin | تأكد | ודאו | 確認 | 确认 | 請確認 | 확인 | सुनिश्चित | pastikan | đảm bảo | ตรวจสอบว่า
"""
"""Words for checking that something is there, which is to be."""

NOT = """
not. | don't | don’t | do not | never | no. | doesn't | cannot | must not | without. deleting
nicht | kein | niemals | ne. | n'. | pas. | jamais | sans. | no. | nunca | jamás | sin. | non. | mai. | senza. | não | nunca | sem.
niet. | geen. | nooit | inte. | aldrig | ikke. | aldri | älä. | älkää | ei. | eikä. | nie. | nigdy | ne. | nikdy | není | nem. | soha | nu. | niciodată
не. | нельзя | никогда | ні. | ніколи | δεν | μην | μη. | değil | asla | لا. | ليس | أبدا | אל ת | לא. | בלי. | ないで | しない | 不要 | 请勿 | 勿 | 別 | 别 | 不得
마세요 | 마십시오 | 않 | 말고 | न. | मत. | नहीं | ना. | jangan | tidak | đừng | không. | อย่า | ไม่
ärge | ära. | mitte. | ekki
"""

EXCHANGE = """
replace | swap | switch from | change from | ersetz | tausch | wechsl | remplac | reemplaz | sustitu | sostitu | substitu | troque | vervang | ersätt | erstat | erstatt
byt. | bytt | skift | korvaa | vaihda | zastąp | zamień | nahraď | vyměň | nahrad | cserél | înlocui | замен | смени | замін | сменете | αντικατ | استبدل | החלף | החליפו
置き換え | 替换 | 替換 | 更换 | 교체 | 바꾸 | 바꿔 | ganti | thay thế | thay. | đổi. | แทนที่
"""
REPLACE = f"""{EXCHANGE}
change the | change your | repoint | re-point | änder | umstell | umgestell | umzustell | umbieg | chang | modifi | cambi | modific | altere | mude | wijzig | verander | ändra | ændr | endre | muuta
zmień | zmien | změň | změn | zmeň | zmen | módosít | változtass | schimb | измени | змін | промен | αλλάξ | değiştir | غير. | غيّر | تغيير | שנה.
変更 | 更改 | 修改为 | 改为 | 改成 | 换成 | 改到 | 변경 | बदल | ubah | mengubah | diubah | thay đổi | เปลี่ยน
"""
"""Words for exchanging one record for another, and those that may also mean to give it another value."""

OR = """
or. | either. | alternatively | alternative | option a. | oder. | alternativ | entweder | stattdessen | ou. | soit. | sinon. | sinon, | o. | u. | bien. | o bien | oppure. | alternativa | en su lugar
ou então | of. | ofwel | eller. | alternativt | antingen | enten | tai. | vaihtoehtoisesti | joko. | lub. | albo. | alternatywnie | nebo. | případně | alebo. | buď. | vagy. | alternatívaként | sau. | | alternativ
или. | либо. | альтернатив | або. | чи. | ή. | εναλλακτικά | είτε | veya. | ya da. | alternatif | yahut | أو. | أو | بديل | או. | לחלופין | または | もしくは | あるいは | 代わりに | 或 | 或者 | 二选一 | 또는 | 혹은 | 대안
या. | अथवा | atau. | alternatif | sebagai gantinya | hoặc. | hoặc là | thay vào đó | หรือ
"""

FOLLOWING = """
following | these | below | as follows | listed here | like this | this record | the next | those
folgend | diese. | diesen. | dieser. | dieses. | unten | nachstehend | nachfolgend | so aus | suivant | ci-dessous | ces. | ceci | cet. | cette.
siguiente | estos. | estas. | este. | esta. | a continuación | abajo | aquí | seguent | quest. | questi. | queste. | questo. | sotto | di seguito | seguinte | estes. | abaixo | a seguir
volgende | deze. | hieronder | dit. | följande | dessa. | nedan | detta. | denna. | følgende | disse. | herunder | nedenfor | denne. | seuraava | nämä | alla. | tämä. | poniższ | następując | te. | ten. | poniżej | tyto. | následujíc | níže | tento. | tieto. | nasleduj | nižšie
következő | ezek | ezeket | alábbi | ezt. | următoare | următor | acest | mai jos | sljedeć | следующ | эти. | эту. | ниже | этот. | наступн | ці. | нижче | цей. | следните | тези. | по-долу
ακόλουθ | παρακάτω | αυτ | aşağıdaki | bu. | şu. | şunlar | التالي | هذه. | هذا. | أدناه | הבא | הבאים | הבאות | אלה. | אלו. | להלן | הזה. | 以下 | 次の | これら | この | 下記 | 以下 | 下列 | 这些 | 這些 | 如下 | 下面
다음 | 아래 | 이 레코드 | निम्न | ये. | इन. | नीचे | berikut | ini. | di bawah | sau đây | này. | dưới đây | ต่อไปนี้ | เหล่านี้ | ด้านล่าง | นี้
järgmis | järgnev | allpool | šādus | šādu. | tālāk | šiuos | toliau | žemiau | eftirfarandi | hér að neðan | següent | aquest | naslednj | spodaj | ispod.
"""


ERRORS = """
error | problem | issue | mistake | fehler | erreur | problème | errores | errori | erros | fouten | fel. | fejl | feil. | virhe | błęd | błąd | chyb | hib. | hibát | erori
ошиб | проблем | помил | σφάλμα | σφάλματα | πρόβλημα | hata. | sorun | أخطاء | خطأ | שגיא | エラー | 問題 | 错误 | 问题 | 錯誤 | 오류 | 문제 | त्रुटि | kesalahan | lỗi | ข้อผิดพลาด
"""
"""What a check may have found, which is no record."""


AS_FOLLOWS = """
as follows | wie folgt | folgendermaßen | comme suit | de la façon suivante | como sigue | de la siguiente | come segue | nel seguente modo
da seguinte | como se segue | como segue | als volgt | som följer | på följande sätt | som følger | på følgende | seuraavasti | następująco
w następujący sposób | následovně | takto. | nasledovne | következőképpen | după cum urmează | astfel | следующим образом | наступним чином | по следния начин
ως εξής | aşağıdaki gibi | şu şekilde | كما يلي | على النحو | כדלקמן | 以下の通り | 以下のとおり | 次の通り | 次のとおり | 以下のように | 下記の通り | 下記のとおり
如下 | 다음과 같이 | 아래와 같이 | इस प्रकार | निम्नानुसार | sebagai berikut | như sau | ดังนี้ | ดังต่อไปนี้
"""

IF = """
if. | in case | should your | when your | wenn. | falls. | sofern. | si. | s'il | en cas. | se. | caso. | als. | indien. | om. | hvis. | dersom. | jos. | jeśli. | jeżeli. | gdy. | pokud. | jestliže. | ak. | ha. | amennyiben | dacă
если. | якщо. | ако. | αν. | εάν. | eğer | إذا | אם. | 場合 | もし | 如果 | 在使用 | 当使用 | 當使用 | 您使用 | 若. | 倘若 | 경우 | 만약 | यदि | अगर | jika | kalau | apabila | nếu | ถ้า | หาก
kui. | jei. | jeigu | ef. | če.
"""

AND = """
and. | und. | et. | y. | e. | en. | och. | og. | ja. | i. | oraz. | a. | és. | și. | и. | і. | й. | та. | και | ve. | و. | と | 和 | 与 | 及 | 以及 | 與 | 와. | 과. | 및 | और. | एवं. | dan. | và. | และ
both. | as well as | sowie. | ainsi que | así como
"""


LOOSE_FIELDS = """
record | records | to | ip | registro | registros | registo | enregistrement | post | rekord | záznam | tietue | entry | eintrag | text | data
use | domain | result | is | from | alias | source | quelle | zapis | запись | запис | soort | clase | kind | art | ad | alan | date | datos | cel
obsah | servidor | server | palvelin | vert | druh | vrsta | вид | label | prefix | lifetime | address | ip address | ipv4 address | ipv6 address
ip-adresse | ip-adress | adresse | adress | adres | adresa | adresă | indirizzo | endereço | dirección | osoite | ip-osoite | subdomain | subdomäne
subdominio | domain name | nombre de dominio | nom de domaine | sous-domaine | testo | texte | texto | tekst | teksti | dns host | mail server
entries | indirizzo ip | dirección ip | endereço ip | ip adresi | レコード | 이름 | 地址 | entrada | ipv4 | ipv6 | txt | domínio | домен
hostname (host) | type post | post type | tip | ime | メール | kayıt | εγγραφή | bejegyzés | înregistrare | السجل | רשומה | 记录 | 記錄 | 레코드 | रिकॉर्ड | bản ghi | ระเบียน
"""
"""Names of fields that are common words in sentences too."""

APEX_WORDS = "apex | root"
"""Single words that mean the domain itself also inside a sentence."""

LABELS = (
    "shop|blog|mail|store|app|ftp|m|mobile|api|cdn|dev|test|staging|news|help|support|docs|portal|forum|wiki|img|static"
    "|autodiscover|webmail|smtp|imap|pop|admin|go|get|links?|members|events|learn|book|booking|home|site|web|pay|info"
    "|boutique|tienda|loja|negozio|winkel|sklep|obchod|kauppa|butik|butikk|eshop|jobs|careers|status|beta|demo|cloud|media|assets"
    "|academy|community|checkout|login|gallery|newsletter|landing|intranet|crm|erp|cms"
    "|email|link|track|click|[a-z]+[0-9][a-z0-9]*|(?!e-)[a-z0-9]+-[a-z0-9-]+"
)
"""Labels that people use, as a pattern; other words behind `for` are hardly names."""

SUBDOMAIN = (
    "sub-?dom|sous-dom|sottodom|alidom|aliverkko|under-?dom|pod-?dom|aldom|поддом|піддом|субдом|υποτομ|alt alan"
    "|サブドメイン|子域|子網域|서브도메인|하위 도메인|النطاق الفرعي|תת"
)
"""How words for a subdomain begin, as a pattern."""

STOP_WORDS = """
the | your | a | an | it | this | that | our | each | all | host | name | value | type | example | domain | record | root | field | column | to
and | with | is | for | as | of | in | on | should | must | box | which | from | server | servers | dns | und | mit | der | die | das | für | et
avec | y | con | e | com | och | med | og | ja | na | i | then | dann | puis | luego | poi | daarna | sedan | potem | pak | zatem
"""
"""Words that are never the name that the word for a host announces."""


CHANGES = """
changes. | änderungen. | changements. | modifications. | cambios. | modifiche. | alterações. | wijzigingen. | aanpassingen. | ändringar.
ændringer. | endringer. | muutokset. | zmiany. | změny. | zmeny. | változtatások | modificări | modificările | изменения. | зміни. | промени.
αλλαγές. | değişiklikleri | التغييرات | השינויים
"""
"""The noun: `make the following changes`."""

PLACES = "shop|store|blog|app|api|portal|forum|wiki|docs|cdn|dev|staging|webmail"
"""Labels that a heading is about, and nothing else: `For shop:`; `For support:` is none."""


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
