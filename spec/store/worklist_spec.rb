# frozen_string_literal: true

# Lets one see the records of one's own team alone.
module TeamsOnly
  def teams_only(kind)
    given = {"seen_by" => "team", "changed_by" => "team", "taken_away_by" => "owner", "kept" => []}
    Yenvo::Store::AccessChanges.new(root).change(kind, given, cause: cause("maren"))
    root.forget
  end

  def sight(person) = Yenvo::Store::Sight.new(root, person)

  def list(person, filter = {}, **more) =
    Yenvo::Store::Worklist.new(root, sight(person)).list(filter, now: Database::NOW, **more)
end

RSpec.describe "The worklist at 200,000 tasks", :slow do
  include TeamsOnly

  # All examples look at the same, and what they add themselves is rolled back. All is about one record, which some may
  # not see.
  before(:all) do
    SetUps.time("200,000 tasks") { fill(make("deal", {"owner" => "tobias"})["id"]) }
  end

  after(:all) { Database.clear }

  # Filled by numbers in SQL: what is tested is how the database finds rows, not how they came in. In some goes, since a
  # statement has a minute.
  def fill(record)
    1.step(200_000, 25_000) { |first| fill_from(first, record) }
    db.fetch("ANALYZE TABLE tasks").all
  end

  def fill_from(first, record) =
    db.run(<<~SQL)
      INSERT INTO tasks (title, text, way, priority, state, open, assignee, queue, team, due_on, due_at, 
        answers, made_at, done_at, took_minutes, rule_id, kind, record_id)
      SELECT CONCAT('Job ', seq, IF(seq % 5001 = 0, ' antifoul', '')), NULL, 'visit', (seq DIV 4) % 4,
        IF(seq % 4 = 0, 'done', 'open'), seq % 4 <> 0, ELT(1 + seq % 4, 'hollie', 'wen', NULL, 'priya'),
        IF(seq % 4 = 2, 'yard_work', NULL),
        'yard_crew', '2026-01-01' + INTERVAL seq % 601 DAY, '2026-01-02' + INTERVAL seq % 601 DAY, '[]',
        '2026-01-01' + INTERVAL seq MINUTE, IF(seq % 4 = 0, '2026-01-01' + INTERVAL seq MINUTE, NULL),
        IF(seq % 4 = 0, seq % 900, NULL), seq % 50, 'deal', #{record}
      FROM seq_1_to_200000 WHERE seq BETWEEN #{first} AND #{first + 24_999}
    SQL

  it "opens by one query over an index, whatever is asked of it" do
    now = Database::NOW
    {
      "mine" => {assignee: "wen"}, "late" => {assignee: "wen", state: "late"}, "everybody's" => {},
      "a queue" => {assignee: "nobody", queue: "yard_work"}, "of a rule" => {rule: 7}, "about a kind" => {kind: "deal"},
      "of a team" => {team: "yard_crew"}, "due today" => {assignee: "wen", due: "today"}, "done" => {state: "done"},
      "by words" => {text: "antifoul"}, "urgent" => {assignee: "wen", priority: "urgent"}
    }.each do |name, filter|
      statements = []
      logger =
        Logger.new(StringIO.new)
          .tap { |log| log.define_singleton_method(:add) { |_, text = nil, more = nil| statements << (text || more) } }
      db.loggers << logger
      read = begin
        rows_read { expect(root.worklist.list(filter, now:).size).to be_positive }
      ensure
        db.loggers.delete(logger)
      end
      expect([name, read]).to match([name, be < 2_000])
      expect(statements.grep(/FROM `tasks`/).size).to eq(1)
    end
  end

  it "goes along none of what is hidden from somebody" do
    teams_only("deal")
    mine = root.tasks.make({"title" => "Mine", "queue" => "yard_work", "due_on" => "2027-12-01"}, cause:)
    [{}, {state: "late"}, {priority: "normal"}].each do |filter|
      found = nil
      read = rows_read { found = list("osk", filter).map { |row| row[:id] } }
      expect([filter, found, read]).to match([filter, (filter[:state] ? [] : [mine[:id]]), be < 3_000])
    end
  end
end

RSpec.describe "The worklist" do
  include TeamsOnly

  it "is for somebody who does not see all the same as all of it without what is hidden, page by page" do
    teams_only("deal")
    records = %w[hollie tobias wen].map { |owner| make("deal", {"owner" => owner})["id"] }
    records += [make("contact", {"owner" => "tobias"})["id"], nil]
    40.times do |i|
      due_on = "2026-12-#{format("%02d", 1 + (i * 7 % 28))}"
      given = {"title" => "T#{i}", "record_id" => records[i % 5], "queue" => "yard_work", "due_on" => due_on}
      task = root.tasks.make(given, cause: cause("maren"))
      root.tasks.finish(task[:id], cause: cause("maren", at: Database::NOW + i)) if (i % 3).zero?
    end
    %w[osk wen maren].product([{}, {state: "done"}, {priority: "normal"}]).each do |person, filter|
      all = sight(person).tasks(root.worklist.list(filter, now: Database::NOW)).map { |row| row[:id] }
      first = list(person, filter, limit: 7)
      moment = filter[:state] ? :done_at : :due_at
      after = {"due_at" => Yenvo::Core::Reading.moment(first.last[moment]), "id" => first.last[:id]}
      rest = list(person, filter, after:)
      expect([person, filter, (first + rest).map { |row| row[:id] }]).to eq([person, filter, all])
    end
  end

  it "shows its rows without a query for each" do
    sizes = [5, 40].map do |count|
      count.times { |i| root.tasks.make({"title" => "Job #{i}", "record_id" => make("deal")["id"]}, cause:) }
      statements = 0
      logger = Logger.new(StringIO.new).tap { |log| log.define_singleton_method(:add) { |*_| statements += 1 } }
      rows = root.worklist.list({assignee: "hollie"}, now: Database::NOW)
      require "yenvo/web"
      present = Yenvo::Web::Present.new(root, now: Database::NOW, person: root.people.find("hollie"))
      db.loggers << logger
      begin
        present.tasks(rows)
      ensure
        db.loggers.delete(logger)
      end
      statements
    end
    expect(sizes.uniq.size).to eq(1)
  end
end
