# frozen_string_literal: true

require "base64"

RSpec.describe "Texts and papers in the set-up", :web do
  around { |example| Dir.mktmpdir { |folder| (root.files = folder) && example.run } }
  before { sign_in("maren") }

  def a_form(**more) = {name: "Quote", kind: "deal", page: "a4", text: "# {{ record.title }}", **more}
  def text_form(**more) = {name: "Welcome", kind: "deal", subject: "Hi", text: "Dear {{ record.title }}", **more}

  # As the page sends a file.
  def send_bytes(path, bytes)
    header "X-CSRF-Token", get_json("/api/session")["csrf"]
    post path, {}, {:input => bytes, "CONTENT_TYPE" => "application/octet-stream"}
    JSON.parse(last_response.body)
  end

  %w[text paper].each do |noun|
    it "keeps a #{noun} in versions, takes it away and brings it back" do
      form = (noun == "text") ? text_form : a_form
      path = "/api/#{noun}s"
      expect(call(:post, path, noun => form)).to include("key" => form[:name].downcase)
      key = form[:name].downcase
      shown = call(:put, path, :key => key, noun => {**form, text: "Now"})["#{noun}s"][0]
      expect(shown).to include("number" => 2, "retired_at" => nil, "leans" => [], "kind" => "deal")
      expect(get_json("#{path}/version?key=#{key}")).to include("text" => "Now", "number" => 2)
      expect(get_json("#{path}/version?key=#{key}&number=1")).to include("text" => form[:text])
      expect([get_json("#{path}/version?key=#{key}&number=9")["error"], status]).to match([/with a version 9/, 404])
      expect(get_json("/api/setup")["#{noun}s"]).to match([hash_including("key" => key, "number" => 2)])
      expect(call(:delete, path, key:)["#{noun}s"][0]["retired_at"]).to be_a(String)
      expect([call(:put, path, :key => key, noun => form)["error"], status]).to match([/There is no #{noun}/, 404])
      expect(call(:post, "#{path}/back", key:)["#{noun}s"][0]["retired_at"]).to be_nil
      call(:put, path, :key => key, noun => {**form, text: "{{ record.nope }}"})
      expect(status).to eq(422)
    end

    it "lets administrators alone set up a #{noun}" do
      sign_in("callum")
      call(:post, "/api/#{noun}s", noun => ((noun == "text") ? text_form : a_form))
      expect([status, get_json("/api/#{noun}s")["error"]]).to match([403, /administrator/])
    end
  end

  it "shows what a paper comes to on a record, as it stands in the form or is kept" do
    deal = make("deal")["id"]
    found = call(:post, "/api/papers/preview", record: deal, paper: a_form)
    expect(words_of_pdf(Base64.decode64(found["data"]))).to include("QuietHour")
    call(:post, "/api/papers", paper: a_form(text: "Kept"))
    kept = call(:post, "/api/papers/preview", record: deal, key: "quote")
    expect([kept["type"], words_of_pdf(Base64.decode64(kept["data"]))]).to match(["pdf", /Kept/])
    call(:post, "/api/papers/preview", record: deal, paper: a_form(text: "a\n{{ record.title | date: '%d' }}"))
    expect([status, last_response.body]).to match([422, /cannot be filled in from this record, in line 2/])
    call(:post, "/api/papers/preview", record: make("ticket")["id"], paper: a_form)
    expect([status, last_response.body]).to match([422, /from other records/])
  end

  it "takes an uploaded document, shows its words and gives it out" do
    bytes = a_docx(word_paragraph("Dear {{ record.title }}"))
    expect(send_bytes("/api/papers/document?name=Letter&kind=deal", bytes)).to include("key" => "letter")
    found = call(:post, "/api/papers/preview", record: make("deal")["id"], key: "letter")
    expect(found).to include("type" => "docx", "words" => ["Dear Quiet Hour"])
    send_bytes("/api/papers/document?name=Letter&kind=deal&key=letter", an_odt("<text:p>x</text:p>"))
    expect(get_json("/api/papers")["papers"][0]).to include("number" => 2, "form" => "odt")
    get "/api/papers/document?key=letter&number=1"
    expect([last_response.body, last_response.headers["content-disposition"]])
      .to eq([bytes, 'attachment; filename="letter-1.docx"'])
    broken = send_bytes("/api/papers/document?name=B&kind=deal", "PK\x03\x04 broken")
    expect(broken["error"]).to match(/no whole document/)
  end

  it "keeps the letterhead" do
    logo = File.binread("spec/support/logo.png")
    shown = call(:put, "/api/papers/letterhead", lines: ["Quay 4"], logo: Base64.strict_encode64(logo))
    expect(shown["letterhead"]).to eq("name" => root.setup_store.house_name, "lines" => ["Quay 4"], "logo" => true)
    get "/api/papers/logo"
    expect([last_response.body, last_response.headers["content-type"]]).to eq([logo, "image/png"])
    call(:put, "/api/papers/letterhead", lines: [], logo: "%%%")
    expect([status, get_json("/api/papers")["letterhead"]["logo"]]).to eq([422, true])
    expect(call(:put, "/api/papers/letterhead", lines: [], logo: "")["letterhead"]).to include("logo" => false)
    expect([get_json("/api/papers/logo")["error"], status]).to eq(["There is no logo.", 404])
    expect(root.audit.page[0][:words]).to match(/the letterhead/)
  end

  describe "files of a record" do
    it "are taken as they are, given out, and taken away, by whoever may" do
      deal = make("deal")["id"]
      sign_in("callum")
      file = send_bytes("/api/records/#{deal}/files?name=hull.txt", "Sound")["files"][0]
      expect(file).to include("name" => "hull.txt", "size" => 5, "by" => "callum")
      get "/api/records/files/#{file["id"]}"
      expect([last_response.body, last_response.headers["content-disposition"]])
        .to eq(["Sound", "attachment; filename*=UTF-8''hull.txt"])
      expect([get_json("/api/tasks/files/#{file["id"]}")["error"], status]).to eq(["There is no such file.", 404])
      expect(root.audit.page(what: "taken_out")[0][:words]).to match(/hull.txt/)
      expect(call(:delete, "/api/records/files/#{file["id"]}")["files"]).to eq([])
      expect(get_json("/api/records/#{deal}/files")["files"]).to eq([])
    end
  end

  it "shows in a try which paper a rule would make, and says of one that cannot be filled in where that is" do
    call(:post, "/api/papers", paper: a_form)
    call(:post, "/api/papers", paper: a_form(name: "Bad", text: "a\nb {{ record.title | date: '%d' }}"))
    deal = make("deal")["id"]
    tried = lambda do |key|
      action = {"action" => "paper", "document" => {"key" => key}, "name" => "Quote {{ record.title }}"}
      rule = {
        "format" => "yenvo-rule/1", "name" => "A rule", "record" => "deal", "how_often" => "every_time",
        "trigger" => {"when" => "record_made"}, "branching" => "first", "branches" => [{"do" => [action]}]
      }
      call(:post, "/api/try/one", rule:, record_id: deal)
    end
    expect(tried.call("quote")["effects"].map { |one| one["title"] }).to eq(["Paper: Quote Quiet Hour.pdf"])
    expect(tried.call("bad")["error"]).to match(/The paper Bad cannot be filled in, in line 2: date needs a date/)
    expect(db[:attachments].count).to eq(0)
  end

  it "fills in the paper of a task, and does the task by the same press" do
    call(:post, "/api/papers", paper: a_form)
    deal = make("deal")["id"]
    sign_in("hollie")
    task = call(:post, "/api/tasks", title: "Send the quote", record_id: deal, fills: "quote")
    id = task["id"]
    expect(get_json("/api/tasks/#{id}")["fills"]).to eq("key" => "quote", "name" => "Quote")
    panel = call(:post, "/api/tasks/#{id}/fill", {done: true})
    expect([panel["task"]["state"], panel["files"].map { |file| file["name"] }])
      .to eq(["done", ["Quote Quiet Hour.pdf"]])
    get "/api/tasks/files/#{panel["files"][0]["id"]}"
    expect(words_of_pdf(last_response.body)).to include("QuietHour")
    other = call(:post, "/api/tasks", title: "Send another", record_id: deal, fills: "quote")["id"]
    Yenvo::Store::Papers.new(root).retire("quote", cause:)
    root.forget
    call(:post, "/api/tasks/#{other}/fill", {done: true})
    expect([status, get_json("/api/tasks/#{other}")["task"]["state"]]).to eq([422, "open"])
    expect(get_json("/api/tasks/#{other}")["fills"]).to eq("key" => "quote", "name" => nil)
  end
end
