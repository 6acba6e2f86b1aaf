# frozen_string_literal: true

require_relative "browser_helper"

RSpec.describe "Being told" do
  def as(person) = Yenvo::Store::Journal::Cause.person(person, Database::NOW)
  def clean = expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa)

  it "ends by mail with one press of whoever has the link, signed in or not" do
    keeping_setup do
      root.db[:people].where(key: "hollie").update(told: JSON.generate("late" => "mail"))
      root.setup_store.changed(who: nil, now: Database::NOW)
      root.forget
      # Of this process; the web process signs with its own secret.
      kept, root.secret = root.secret, Processes::SECRET
      visit "/unsubscribe/#{root.own_mail.token("hollie", "late")}"
      expect(page).to have_css("h1", text: "No more mails like this?")
      clean
      click_button "Stop them"
      expect(page).to have_css("[role=status]", text: "Stopped. You are still told in the bell")
      root.forget
      expect(root.schema.person("hollie").told_by("late")).to eq("bell")
      visit "/unsubscribe/#{root.own_mail.token("hollie", "late")[0..-2]}x"
      click_button "Stop them"
      expect(page).to have_css("[role=alert]")
    ensure
      root.secret = kept
    end
  end

  it "is narrowed by rule in the bell, read one by one or all at once" do
    rule = publish("name" => "Greet", "trigger" => {"when" => "record_made"}, "branches" => [{
      "do" => [
        {"action" => "notice", "assign" => {"to" => "person", "person" => "hollie"},
         "text" => "New: {{ record.title }}"}
      ]
    }])
    root.records.make("deal", {"title" => "Tern"}, cause: as("maren"))
    Processes.instance_method(:wait_until).bind_call(self, "the rule has run") { root.db[:notices].count == 1 }
    root.notices.add(["hollie"], "From nobody", at: Database::NOW)
    sign_in("Hollie Banner", at: "/notices")
    expect(page).to have_text("New: Tern").and(have_text("From nobody"))
    choose_from("Told by", rule[:name])
    expect(page).to have_no_text("From nobody")
    expect(page).to have_text("New: Tern")
    clean
    click_button "Mark all as read"
    expect(page).to have_text("all read")
  end
end
