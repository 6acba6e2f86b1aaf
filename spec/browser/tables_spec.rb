# frozen_string_literal: true

require_relative "browser_helper"
require "csv"

RSpec.describe "Tables that are brought in, in the browser" do
  let(:many) { 2_000 }
  let(:bad) { 17 }

  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  # @return [String] path of a table with some bad rows, each bad in a way of its own
  def owners
    path = File.join(Dir.mktmpdir, "owners.csv")
    CSV.open(path, "w", col_sep: ";") do |csv|
      csv << ["Name", "E-mail", "Phone", "Country", "Cover expires"]
      many.times { |n|
        csv << ["Owner #{n}", "owner#{n}@post.example", "+353 555 #{1_000 + n}", "Ireland", "31.12.2027"]
      }
      bad.times { |n|
        csv << [["", "x#{n}@post.example"], ["Bad #{n}", "nobody"], ["Bad #{n}", "", "", "Atlantis"]][n % 3]
      }
    end
    path
  end

  def contacts = root.db[:records].where(kind: "contact")

  it "are looked at, each bad row named, brought in without rules, and taken back" do
    sign_in("Hollie Banner", at: "/records/contact")
    attach_file("Table to bring in", owners, make_visible: true)
    expect(page).to have_css("h1", text: "owners.csv")
    expect(page).to have_css("td", text: "owner0@post.example")
    clean
    expect(page).to have_css("[data-test=door-rows] li[aria-label=Title]", text: "Name: Owner 0")
    click_button "Look at every row"
    expect(page).to have_css("[data-test=looked]", text: "Of 2,017 rows 2,000 would be made", wait: 60)
    rows = "section[aria-label='Rows that are refused'] tbody tr"
    expect(page).to have_text("17 rows are refused").and(have_css(rows,
      count: bad))
    expect(page).to have_css("tr", text: /2002.*Name.*Title has to be filled in/m)
    expect(page).to have_css("tr", text: /2003.*E-mail.*takes an e-mail address/m)
    expect(contacts.count).to eq(0)
    clean
    click_button "Bring in 2,000 rows"
    expect(page).to have_css("[data-test=written]", text: "2,000 made, 0 changed, 0 were the same already, 17 refused.",
      wait: 90)
    expect(page).to have_text("no rule has met it")
    expect(contacts.count).to eq(many)
    clean
    click_link "To the list"
    expect(page).to have_text("Owner 1999")
    page.go_back
    click_button "Take it back"
    expect(page).to have_text("2,000 taken back", wait: 180)
    click_button "Forget this table"
    expect(page).to have_text("The file and the list of what it wrote are forgotten")
    expect(contacts.count).to eq(0)
  end

  it "say what went wrong and lose nothing, with the keys alone at 360 px" do
    sign_in("Hollie Banner", at: "/records/contact", width: 360, height: 740)
    path = File.join(Dir.mktmpdir, "few.csv")
    File.write(path, "Title,E-mail\nAldo,aldo@sea.example\n")
    click_button "More"
    attach_file("Table to bring in", path, make_visible: true)
    expect(page).to have_css("h1", text: "few.csv")
    expect(page.evaluate_script("document.documentElement.scrollWidth")).to be <= 360
    network(offline: true)
    find_button("Look at every row").send_keys(:enter)
    expect(page).to have_text("Yenvo cannot be reached just now.")
    network
    find_button("Look at every row").send_keys(:enter)
    find_button("Bring in 1 row", wait: 30).send_keys(:enter)
    expect(page).to have_css("[data-test=written]", text: "1 made", wait: 30)
    expect(contacts.select_map(:title)).to eq(["Aldo"])
  end
end
