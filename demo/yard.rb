# frozen_string_literal: true

module Demo
  # Sets up Fennick Sound Boatyard: its people, teams, queues, calendar, kinds of record and sign-ins.
  class Yard
    SOURCE = File.join(__dir__, "yard.yml")
    DOMAIN = "fennick.example"

    # @param root [Yenvo::Store::Root] migrated and empty
    # @param today [Date] the local day around which dates are laid out
    def initialize(root, today:)
      @root = root
      @today = today
      @plain = Yenvo::Store::HousePlan.file(SOURCE)
    end

    # @param now [Time]
    def set_up(now:)
      @root.transaction do
        settings
        Yenvo::Store::HousePlan.new(@root).write(@plain)
        people
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
      hash = Yenvo::Store::Passwords.kept(Yenvo::Settings::DEMO_PASSWORD)
      @plain["people"].each do |key, (name, role, team)|
        db[:people].insert(key:, name:, email: "#{key}@#{DOMAIN}", role:, team:)
        db[:memberships].insert(person: key, team:)
        db[:accounts].insert(email: "#{key}@#{DOMAIN}", password_hash: hash, person: key)
      end
      away
    end
  end
end
