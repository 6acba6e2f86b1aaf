# frozen_string_literal: true

require_relative "browser_helper"
require_relative "../support/hands"

RSpec.describe "Papers, texts and files on the page" do
  let(:hand) { Hands::Mouse.new(page) }

  def as(person) = Yenvo::Store::Journal::Cause.person(person, Database::NOW)
  def a_deal = root.records.make("deal", {"title" => "Quiet Hour", "value" => 90}, cause: as("hollie"))["id"]
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  def a_file(name, bytes)
    File.join(Dir.mktmpdir, name).tap { |path| File.binwrite(path, bytes) }
  end

  it "are filled in by one press of whoever does the task that asks for one" do
    a_paper
    deal = a_deal
    sign_in("Hollie Banner", at: "/record/#{deal}")
    click_button "New task"
    within("[role=dialog]") do
      fill_in "What to do", with: "Send the quote"
      hand.choose "Paper it asks for", "Quote"
      clean
      click_button "Make the task"
    end
    visit "/worklist"
    click_button "Send the quote"
    click_button "Fill it in"
    expect(page).to have_css("a", text: "Quote Quiet Hour.pdf")
    clean
    click_button "Fill it in, and done"
    expect(page).to have_no_css("[data-test=fill-paper]")
    expect(root.db[:tasks].get(:state)).to eq("done")
    expect(root.db[:attachments].count).to eq(2)
  end

  it "are uploaded, named where a blank means nothing, shown with their words, and come in versions" do
    a_deal
    sign_in("Maren Oduya", at: "/setup/papers")
    click_button "Upload one"
    fill_in "Name", with: "Slip"
    hand.choose "Filled in from", "Deals"
    attach = ->(bytes) { find("input[type=file]", visible: :all).attach_file(a_file("slip.docx", bytes)) }
    attach.call(a_docx(word_paragraph("Dear"), word_paragraph("{{ record.titel }}")))
    expect(page).to have_text("slip.docx")
    click_button "Add it"
    expect(page).to have_css("[role=alert]", text: "In paragraph 2: record.titel must name a field of a deal")
    attach.call(a_docx(word_paragraph("Dear {{ record.title }}")))
    click_button "Add it"
    click_button "Slip"
    expect(page).to have_css("[data-test=paper]", text: "Dear Quiet Hour")
    clean
    attach.call(a_docx(word_paragraph("Hello {{ record.title }}")))
    click_button "Save as version 2"
    click_button "Slip"
    expect(page).to have_css("[data-test=paper]", text: "Hello Quiet Hour")
    hand.choose "Version", "Version 1"
    expect(page).to have_css("[data-test=paper]", text: "Dear Quiet Hour")
    expect(page).to have_text("This is version 1 as it was.")
    click_button "Save as version 3"
    click_button "Slip"
    expect(page).to have_css("[data-test=paper]", text: "Dear Quiet Hour")
    click_button "Take it away"
    expect(page).to have_css("section", text: /Taken away.*Slip/m)
    click_button "Bring back Slip"
    expect(page).to have_css("tbody tr", text: "Slip")
  end

  it "say on the sheet in which version a rule takes a text, and take the newest when that is wanted" do
    key = a_saved_text
    rule = publish(
      "trigger" => {"when" => "record_made"}, "name" => "Greet", "branches" => [{
        "do" => [
          {"action" => "mail", "receivers" => [{"to" => "owner"}], "saved" => {"key" => key}}
        ]
      }]
    )
    a_saved_text(key:, text: "Newer")
    sign_in("Maren Oduya", at: "/rules/#{rule[:id]}")
    hand.open("tr[data-row='0'] td:last-child button:nth-of-type(1)")
    expect(page).to have_text("It stays at version 1; the newest is 2.")
    clean
    click_button "Take the newest"
    expect(page).to have_text("It stays at version 2, until the rule is published with another.")
    check "Always the newest version"
    expect(page).to have_no_text("It stays at version")
    hand.choose "Its words", "typed here"
    expect(page).to have_field("Subject")
    visit "/setup/texts"
    click_button "Welcome"
    click_button "Take it away"
    expect(page).to have_css("[role=alert]", text: "“Greet” leans on the text Welcome")
    click_button "Take it away all the same"
    expect(page).to have_css("section", text: /Taken away.*Welcome/m)
  end

  it "hang on a record as its files, added and taken away" do
    deal = a_deal
    sign_in("Hollie Banner", at: "/record/#{deal}")
    find("aside input[type=file]", visible: :all).attach_file(a_file("hull.txt", "Sound"))
    expect(page).to have_css("aside a", text: "hull.txt")
    expect(page).to have_text("Hollie Banner added the file hull.txt")
    clean
    find("aside input[type=file]", visible: :all).attach_file(a_file("hull.exe", "MZ"))
    expect(page).to have_text("A file of this kind is not taken")
    click_button "Take away hull.txt"
    expect(page).to have_no_css("aside a", text: "hull.txt")
  end
end
