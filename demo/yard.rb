# frozen_string_literal: true

require "argon2"
require "yaml"

module Demo
  # Sets up Fennick Sound Boatyard: its people, teams, queues, calendar, kinds of record and sign-ins.
  class Yard
    SOURCE = File.join(__dir__, "yard.yml")
    DOMAIN = "fennick.example"
    Core = Yenvo::Core

    # @param root [Yenvo::Store::Root] migrated and empty
    # @param today [Date] the local day around which dates are laid out
    def initialize(root, today:)
      @root = root
      @today = today
      @plain = YAML.safe_load_file(SOURCE)
    end

    # @param now [Time]
    def set_up(now:)
      @root.transaction do
        settings
        people
        @plain["kinds"].each_with_index do |(key, kind), index|
          @root.setup_store.add_kind(kind_of(key, kind), position: index)
        end
        @root.setup_store.changed(who: nil, now:)
      end
    end

    # What hangs on the day of loading alone, and does not move with the story by whole weeks: when the yard is shut,
    # and who is away.
    def lay_out_around_today
      @root.setup_store.set("days_off", rests)
      db[:setups].select_hash(:epoch, :body).each do |epoch, text|
        body = JSON.parse(text)
        body["settings"]["days_off"] = rests
        db[:setups].where(epoch:).update(body: JSON.generate(body))
      end
      db[:absences].delete
      away
    end

    private

    def db = @root.db

    def settings
      @plain["settings"].each { |name, value| @root.setup_store.set(name, value) }
      @root.setup_store.set("days_off", rests)
    end

    def rests =
      (@today.year - 1..@today.year + 1).map do |year|
        {"from" => "#{year}-12-24", "to" => "#{year + 1}-01-02", "name" => "Yard shut"}
      end

    def away = db[:absences].insert(person: "callum", from_on: @today - 3, to_on: @today + 4)

    def people
      @plain["teams"].each { |key, name| db[:teams].insert(key:, name:) }
      @plain["queues"].each { |key, (name, team)| db[:queues].insert(key:, name:, team:) }
      hash = Argon2::Password.new(t_cost: 2, m_cost: 15).create(Yenvo::Settings::DEMO_PASSWORD)
      @plain["people"].each do |key, (name, role, team)|
        db[:people].insert(key:, name:, email: "#{key}@#{DOMAIN}", role:, team:)
        db[:accounts].insert(email: "#{key}@#{DOMAIN}", password_hash: hash, person: key)
      end
      away
    end

    def kind_of(key, plain)
      label, plural, stage_label = plain["names"]
      stages = plain["stages"].map { |stage, words| Core::Schema::Choice.new(key: stage, label: words) }
      Core::Schema::Kind.new(
        key:, label:, plural:, stage_label:, stages:,
        open_door: plain.fetch("open_door", false),
        fields: plain["fields"].map { |name, (words, type, more, formula)| field(name, words, type, more, formula) }
      )
    end

    def field(name, words, type, more, formula)
      case type
      when "choice", "choices" then Core::Schema::Field.of(name, words, type, choices: more.to_a)
      when "link" then Core::Schema::Field.of(name, words, type, links_to: more)
      else Core::Schema::Field.of(name, words, type, unit: more, formula:)
      end
    end
  end
end
