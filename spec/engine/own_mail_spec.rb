# frozen_string_literal: true

require "yenvo/web"

RSpec.describe "What people are told by mail", :engine do
  let(:now) { Database::NOW }

  before { root.setup_store.set("mail_from", "house@fennick.example") }

  def choose(person, **told)
    own = Yenvo::Store::OwnChanges.new(root)
    own.save_own(person, {"told" => told.transform_keys(&:to_s)}, cause: cause(person, at: now))
    root.forget
  end

  # Written by the worker, when it has the time.
  def mails
    root.own_mail.at_once(now:)
    db[:deliveries].order(:id).all.map { |row| [row[:to], row[:subject], JSON.parse(row[:content])["text"]] }
  end

  def give(title, who: "tobias", at: now, **more)
    root.tasks.make({"title" => title, **more.transform_keys(&:to_s)}, cause: cause(who, at:))
  end

  it "is what they chose, and what they did not choose stands in the bell alone" do
    choose("hollie", given: "mail", reminder: "none")
    give("Splice the line", assignee: "hollie")
    give("Whip the line", assignee: "osk")
    expect(mails.map { |to, subject, _| [to, subject] }).to eq(
      [["hollie@fennick.example", "Tobias Kell gave you “Splice the line”."]]
    )
    expect(db[:notices].order(:id).select_map(:person)).to eq(%w[hollie osk])
    expect(db[:deliveries].get(:content)).to match(/"link":"\/worklist\?who=all&task=\d+".*"stop":\["hollie","given"\]/)
  end

  it "carries no words of a record that they may not see" do
    levels = {"seen_by" => "owner", "changed_by" => "owner", "taken_away_by" => "owner", "kept" => []}
    deal = make("deal", {"title" => "Secret Hour", "owner" => "tobias"}, who: "tobias")["id"]
    task = give("Look at Secret Hour", record_id: deal, assignee: "tobias")
    Yenvo::Store::AccessChanges.new(root).change("deal", levels, cause: cause("maren"))
    root.forget
    choose("hollie", mention: "mail")
    root.comments.add(task[:id], "@hollie, Secret Hour!", cause: cause("tobias"))
    expect([db[:notices].where(person: "hollie").count, mails]).to eq([1, []])
    expect(root.notices.of("hollie")).to eq([])
  end

  it "does not go while the house has no address" do
    db[:settings].where(name: "mail_from").delete
    choose("hollie", given: "mail")
    give("Splice", assignee: "hollie")
    expect([mails, db[:notices].count]).to eq([[], 1])
  end

  it "is of late tasks, queues and mentions, too, for whoever wants that" do
    choose("hollie", late: "bell", mention: "mail")
    choose("osk", queue: "bell")
    task = give("Call back", assignee: "hollie", due_on: "2026-11-23")
    give("Ring them", queue: "callbacks")
    root.comments.add(task[:id], "@hollie, soon", cause: cause("tobias"))
    root.tasks.note_late(now: now + 60)
    expect(db[:notices].exclude(what: "given").order(:id).select_map(%i[person what])).to eq(
      [%w[osk queue], %w[hollie mention], %w[hollie late]]
    )
    expect(mails.map(&:first)).to eq(["hollie@fennick.example"])
    # Whoever put it there knows.
    give("Own", who: "osk", queue: "callbacks")
    expect(db[:notices].where(what: "queue").count).to eq(1)
  end

  describe "daily" do
    def due(person = "hollie") = db[:people].where(key: person).get(:daily_due_at)
    def come(at) = root.own_mail.daily(now: at)

    it "comes at eight of their zone on their working days" do
      choose("hollie", given: "daily")
      expect(due).to eq(Time.utc(2026, 11, 25, 8))
      db[:people].where(key: "hollie").update(zone: "Pacific/Auckland")
      expect(root.own_mail.due(root.people.find("hollie"), now)).to eq(Time.utc(2026, 11, 24, 19))
      friday = Time.utc(2026, 11, 27, 12)
      db[:people].where(key: "hollie").update(zone: nil)
      expect(root.own_mail.due(root.people.find("hollie"), friday)).to eq(Time.utc(2026, 11, 30, 8))
    end

    it "says what is late, what is for today, and what they were told since, and nothing where there is nothing" do
      choose("hollie", given: "daily", mention: "bell")
      give("Late one", assignee: "hollie", due_on: "2026-11-20", at: now + 1)
      give("Today's", assignee: "hollie", due_on: "2026-11-25")
      task = give("Later", assignee: "hollie", due_on: "2026-12-20")
      root.comments.add(task[:id], "@hollie?", cause: cause("tobias", at: now + 60))
      expect(come(due - 1)).to eq(0)
      expect(come(due)).to eq(1)
      to, subject, text = mails[0]
      expect([to, subject]).to eq(["hollie@fennick.example", "Your day at Fennick Sound Boatyard"])
      expect(text).to match(
        /\ALate\n- Late one, due .*\n\nToday\n- Today's, due .*\n\nTold since\n- Tobias Kell gave you “Late one”\.\n/
      )
      expect(text).not_to include("@hollie")
      expect(due).to eq(Time.utc(2026, 11, 26, 8))
      db[:tasks].update(open: false)
      expect([come(due), mails.size]).to eq([1, 1])
    end

    it "comes no more when nothing is chosen for it, and to nobody who has left" do
      choose("hollie", given: "daily")
      choose("hollie", given: "bell")
      expect(due).to be_nil
      choose("osk", given: "daily")
      db[:people].where(key: "osk").update(active: false)
      expect(come(Time.utc(2026, 12, 1, 12))).to eq(0)
    end

    it "is written once, however many workers there are", :committed do
      choose("hollie", given: "daily")
      give("Late one", assignee: "hollie", due_on: "2026-11-20")
      at = due
      Array.new(3) {
        Thread.new {
          Yenvo::Store::Root.open(Database.url, connections: 1).own_mail.daily(now: at)
        }
      }.each(&:join)
      expect(mails.count { |_, subject, _| subject.start_with?("Your day") }).to eq(1)
    ensure
      db[:people].update(told: nil, daily_due_at: nil, daily_since: nil)
      db[:settings].where(name: "mail_from").delete
      root.setup_store.changed(who: nil, now:)
      root.forget
    end
  end

  it "stands in the bell for ninety days" do
    give("Old", assignee: "hollie", at: now - (91 * 86_400))
    give("New", assignee: "hollie")
    root.notices.purge(now:)
    expect(db[:notices].select_map(:text).join).to eq("Tobias Kell gave you “New”.")
  end
end
