# frozen_string_literal: true

RSpec.describe Yenvo::Core::LetterReader do
  include LetterWords

  def read(bytes) = described_class.read(bytes)

  it "reads who writes to whom about what, and which mails it answers" do
    letter = read(
      a_letter(
        to: "Snags <Snags@Yard.example>, other@yard.example", subject: "=?UTF-8?B?UmU6IFTDvHI=?=",
        message_id: "<a@sea.example>", in_reply_to: "<b@yenvo>", references: "<c@yenvo> <b@yenvo>"
      )
    )
    expect(letter).to have_attributes(
      message_id: "a@sea.example", sender: "aldo@sea.example", name: "Aldo Renn", subject: "Re: Tür", about: "Tür",
      to: %w[snags@yard.example other@yard.example], references: %w[b@yenvo c@yenvo], sort: "letter"
    )
  end

  it "parts what was written from what is quoted, in any tongue" do
    heads = ["On Mon, 3 Nov 2026, Yard <yard@x.example> wrote:", "Am 3. Nov. 2026 schrieb Yard <yard@x.example>:"]
    heads.each do |head|
      letter = read(a_letter("Yes, please.\r\n\r\n#{head}\r\n> Shall we?\r\n> The yard"))
      expect([letter.text, letter.folded]).to eq(["Yes, please.", "#{head}\n> Shall we?\n> The yard"])
    end
  end

  it "keeps an answer that stands between the lines of the quote" do
    letter = read(a_letter("> Shall we?\r\n\r\nYes.\r\n\r\n> When?\r\n\r\nOn Friday."))
    expect(letter.text).to include("> Shall we?").and include("On Friday.")
  end

  it "makes text of HTML, without what runs in it" do
    html = "<style>p{}</style><p>Hello <b>you</b> &amp; me</p><script>alert(1)</script>" \
           "<blockquote>Shall we?</blockquote>"
    letter = read(a_letter(html, mime_version: "1.0", content_type: "text/html; charset=utf-8"))
    expect([letter.text, letter.folded]).to eq(["Hello you & me", "> Shall we?"])
  end

  it "reads other character sets, and files" do
    text = "Gr\xFC\xDFe".b
    plain = a_letter(text, mime_version: "1.0", content_type: "text/plain; charset=iso-8859-1")
    expect(read(plain).text).to eq("Grüße")
    mail = Mail.new(from: "a@x.example", to: "b@x.example", subject: "s", body: "Look.")
    mail.add_file(filename: "plan.txt", content: "a plan")
    expect(read(mail.to_s)).to have_attributes(text: "Look.", files: [["plan.txt", "a plan"]])
  end

  {
    "letter" => {auto_submitted: "no"}, "automatic" => {auto_submitted: "auto-replied"}
  }.each { |sort, heads| it("knows a #{sort}") { expect(read(a_letter(**heads)).sort).to eq(sort) } }

  it "knows mails of programs and mails to many" do
    [
      {auto_submitted: "auto-generated; x=y"}, {precedence: "bulk"}, {list_id: "<l.x.example>"}, {return_path: "<>"},
      {x_autoreply: "yes"}
    ].each { |heads| expect(read(a_letter(**heads)).sort).to eq("automatic"), heads.inspect }
    expect(read(a_letter(from: "MAILER-DAEMON@x.example")).sort).to eq("automatic")
    around = Array.new(51) { |i| "Received: by s#{i}.example\r\n" }.join
    expect(read(around + a_letter).sort).to eq("loop")
  end

  it "reads which mail could not be brought to whom, and leaves out what is only late" do
    letter = read(a_notice(message_id: "a@yenvo", address: "Gone@Sea.example"))
    expect(letter.sort).to eq("bounce")
    expect(letter.returns).to contain_exactly(
      have_attributes(address: "gone@sea.example", status: "5.1.1", message_id: "a@yenvo", for_good?: true,
        words: "550 There is no such mailbox")
    )
    expect(read(a_notice(message_id: "a@yenvo", address: "x@y.example", action: "delayed")).returns).to eq([])
  end

  it "reads what is broken as far as it goes, and nothing without a sender" do
    [
      "From: a@x.example\r\n\r\n\xFF\xFE\x00", "From: \xFF <a@x.example>\r\nSubject: \xFF\r\nDate: never\r\n\r\nx",
      "From: a@x.example\r\nContent-Type: multipart/mixed; boundary=\r\n\r\n--\r\n",
      "From: a@x.example\r\nContent-Type: text/plain; charset=nowhere\r\n\r\nx",
      "From: a@x.example\r\nContent-Type: ;;;\r\nContent-Transfer-Encoding: strange\r\n\r\nx",
      "From: a@x.example\r\nContent-Type: multipart/report; report-type=delivery-status; boundary=b\r\n\r\n--b--\r\n"
    ].each { |bytes| expect(read(bytes).sender).to eq("a@x.example"), bytes.inspect }
    ["", "\r\n\r\n", "To: b@x.example\r\n\r\nHello", "From: nobody\r\n\r\n", "\x00" * 1_000].each do |bytes|
      expect { read(bytes) }.to raise_error(Yenvo::Core::Unreadable), bytes[0, 30].inspect
    end
    expect { read("x" * 30_000_001) }.to raise_error(Yenvo::Core::Unreadable, /30 MB/)
  end

  it "takes no longer for what was written to take long" do
    began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    ["On \n" * 7_000, "#{"a 1 " * 4_999}\n> b", "> " * 9_000].each { |text| read(a_letter("#{text}wrote:")) }
    deep = Array.new(5_000) { |n| "Content-Type: multipart/mixed; boundary=b#{n}\n\n--b#{n}\n" }.join
    expect { read("From: a@x.example\n#{deep}") }.to raise_error(Yenvo::Core::Unreadable, /parts of parts/)
    html = {mime_version: "1.0", content_type: "text/html"}
    ["<blockquote>a" * 50_000, "<div>" * 100_000].each { |text| read(a_letter(text, **html)) }
    expect(Process.clock_gettime(Process::CLOCK_MONOTONIC) - began).to be < 10
  end

  it "says so when it cuts" do
    letter = read(a_letter("a" * 30_000))
    expect([letter.text.size, letter.text]).to match([20_000, /\(Cut here: the mail has 30,000 characters\.\)\z/])
  end
end
